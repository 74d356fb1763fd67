/** `npm run bench [-- NAME…]`: one JSON line a measure, each against a reference measured in the same run. */
import { benchCollector } from './collector'
import { benchBacklog, benchDrain } from './drain'
import { benchAdvance, benchOpen } from './evidence'
import { benchImport } from './import'
import { benchJudge } from './judge'
import type { Measure } from './measure'
import { benchPages } from './pages'
import { benchScale } from './scale'
import { benchTag } from './tag'

const benches: Record<string, () => Promise<Measure[]>> = {
  collector: benchCollector,
  drain: benchDrain,
  backlog: benchBacklog,
  import: benchImport,
  judge: benchJudge,
  open: benchOpen,
  advance: benchAdvance,
  scale: benchScale,
  tag: benchTag,
  pages: benchPages,
}

const wanted = process.argv.slice(2)
const unknown = wanted.filter(name => !(name in benches))
if (unknown.length > 0) {
  console.error(`No benchmark "${unknown[0]}". There are: ${Object.keys(benches).join(', ')}.`)
  process.exit(2)
}
for (const [name, run] of Object.entries(benches))
  if (wanted.length === 0 || wanted.includes(name))
    for (const measure of await run())
      console.log(
        JSON.stringify({
          ...measure,
          value: Number(measure.value.toPrecision(5)),
          ratio: Number(measure.ratio.toFixed(3)),
        }),
      )
process.exit(0)
