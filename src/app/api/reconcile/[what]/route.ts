import { readAddress } from '@/app/frame'
import { settingsFor } from '@/core/intake/settings'
import { formatDay, parsePeriod } from '@/core/shared/days'
import { daysBefore } from '@/core/shared/periods'
import { sharedDatabase } from '@/data/connect'
import { listDefinitions } from '@/data/signals'
import { ask } from '@/server/compute/ask'
import { type Asked, reconcileParts } from '@/server/reconcileParts'
import { answering, Refused } from '../../answering'
import { askedResult } from '../../askedResult'

export const dynamic = 'force-dynamic'

/**
 * What a part of Reconcile shows, with the settings that made it: `?from=&to=&network=&result=`, and `first=FROM..TO`
 * for what changed. Amounts are in minor units.
 */
export const GET = answering<{ params: Promise<{ what: string }> }>(async (request, { params }) => {
  const { what } = await params
  if (!Object.hasOwn(reconcileParts, what))
    throw new Refused(404, `There is no “${what}”. There are: ${Object.keys(reconcileParts).join(', ')}.`)
  const query = new URL(request.url).searchParams
  const { workspace, settings, period, scope, span } = await readAddress(Object.fromEntries(query))
  const result = await askedResult(query, workspace)
  const definition = (await listDefinitions(sharedDatabase(), workspace)).find(d => d.id === result)
  const said = {
    from: formatDay(period.from),
    to: formatDay(period.to),
    network: scope.network ?? null,
    result,
    settings: settingsFor(settings, definition ?? {}),
  }
  if (!span) return Response.json({ ...said, shows: null })
  const first = parsePeriod(query.get('first') ?? '') ?? daysBefore(period)
  const asked: Asked = {
    period,
    first,
    scope,
    ask: (view, question) => ask(workspace, view, question, result, request.signal),
  }
  const shows = await reconcileParts[what as keyof typeof reconcileParts](asked)
  return Response.json({ ...said, shows })
})
