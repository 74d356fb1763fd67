import { workspaceHere } from '@/app/frame'
import { sharedDatabase } from '@/data/connect'
import { describeHandOff, writeHandOff } from '@/server/signals/handOff'
import { whereWords } from '@/ui/signals/ruleWords'
import { answering } from '../answering'

export const dynamic = 'force-dynamic'

/** The hand-off sheet as a Markdown file. */
export const GET = answering(async () => {
  const { id } = await workspaceHere()
  return new Response(writeHandOff(await describeHandOff(sharedDatabase(), id), whereWords), {
    headers: {
      'content-type': 'text/markdown; charset=utf-8',
      'content-disposition': 'attachment; filename="hand-off.md"',
    },
  })
})
