import { readAddress, SHARED_SPEND } from '@/app/frame'
import { formatDay } from '@/core/shared/days'
import { type SheetRow, sheetCells } from '@/core/weigh/changeSheet'
import { listedKinds, listedSegments } from '@/core/weigh/lists'
import { segmentPart } from '@/core/weigh/segments'
import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { ask } from '@/server/compute/ask'
import { answering, Refused } from '../../answering'

export const dynamic = 'force-dynamic'

/** What to leave out and keep of one network's sources, placements or keywords, in its own columns: `?network=&kind=`. */
export const GET = answering(async request => {
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { workspace, period, scope, result } = await readAddress(query)
  const kind = listedKinds.find(one => one === query.kind)
  const profile = (await listProfiles(sharedDatabase(), workspace)).find(one => one.id === scope.network)
  if (!kind || !profile)
    throw new Refused(400, `Say network=ID and kind=${listedKinds.join(', ')}: lists are for one network.`)
  const question = { period, scope, by: segmentPart(kind), shared: query.spend === SHARED_SPEND }
  const { byPart, currency } = await ask(workspace, 'weigh', question, result, request.signal)
  const rows = listedSegments(byPart ?? [], profile.id).map(
    (one): SheetRow => ({
      date: formatDay(period.to),
      ids: [],
      names: [],
      levelName: '',
      value: one.value,
      action: one.action,
      bidFactor: one.factor,
    }),
  )
  const { fields, data } = sheetCells(profile.sheets, 'lists', rows, currency)
  return new Response(
    writeCsv(
      fields,
      data.map(cells => Object.fromEntries(cells.map((cell, i) => [fields[i]!, cell]))),
    ),
    {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': `attachment; filename="${kind}s-${profile.id}.csv"`,
      },
    },
  )
})
