import { readAddress } from '@/app/frame'
import { settingsFor } from '@/core/intake/settings'
import { formatDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listDefinitions } from '@/data/signals'
import { ask } from '@/server/compute/ask'
import { answering } from '../answering'
import { askedResult } from '../askedResult'

export const dynamic = 'force-dynamic'

/**
 * What Reconcile shows, with the settings that made it: `?from=&to=&network=&result=`. The gap by cause, of the
 * whole, of each day, network, campaign, ad set and ad; amounts in minor units.
 */
export const GET = answering(async request => {
  const query = new URL(request.url).searchParams
  const { workspace, settings, period, scope, span } = await readAddress(Object.fromEntries(query))
  const result = await askedResult(query, workspace)
  const definition = (await listDefinitions(sharedDatabase(), workspace)).find(d => d.id === result)
  const asked = {
    from: formatDay(period.from),
    to: formatDay(period.to),
    network: scope.network ?? null,
    result,
    settings: settingsFor(settings, definition ?? {}),
  }
  if (!span) return Response.json(asked)
  const [{ gap, sections, unplaced, days, captures, shared }, below] = await Promise.all([
    ask(workspace, 'reconcile', { period, scope }, result, request.signal),
    ask(workspace, 'reconcileBelow', { period, scope }, result, request.signal),
  ])
  const parts = [...sections, ...(JSON.parse(below) as typeof sections)]
  return Response.json({ ...asked, gap, unplaced, days, captures, shared, parts })
})
