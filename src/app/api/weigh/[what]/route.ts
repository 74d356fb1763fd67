import * as z from 'zod'
import { readAddress } from '@/app/frame'
import { plainRuleSchema } from '@/core/weigh/plainRules'
import { sharedDatabase } from '@/data/connect'
import { listJourneys } from '@/data/journeys'
import { ask } from '@/server/compute/ask'
import { answering, Refused } from '../../answering'

export const dynamic = 'force-dynamic'

const rulesAsked = z.array(plainRuleSchema).max(12)

/** What columns and panels of Weigh show once they are looked at: `sparks`, `conversions`, `steps`, `plan`, `rules`. */
export const GET = answering<{ params: Promise<{ what: string }> }>(async (request, { params }) => {
  const { what } = await params
  const query = Object.fromEntries(new URL(request.url).searchParams)
  const { workspace, period, scope, result } = await readAddress(query)
  const asked = { period, scope }
  switch (what) {
    case 'sparks':
      return Response.json(await ask(workspace, 'weighSparks', asked, result, request.signal))
    case 'conversions':
      return Response.json(await ask(workspace, 'weighConversions', asked, result, request.signal))
    case 'plan':
      return Response.json(await ask(workspace, 'weighPlan', asked, result, request.signal))
    case 'steps': {
      const journey = (await listJourneys(sharedDatabase(), workspace)).find(one => one.id === query.journey)
      if (!journey) throw new Refused(404, `There is no journey "${query.journey ?? ''}".`)
      return Response.json(await ask(workspace, 'weighSteps', { ...asked, journey }, result, request.signal))
    }
    case 'rules': {
      const rules = rulesAsked.safeParse(parsed(query.rules ?? '[]'))
      if (!rules.success) throw new Refused(400, z.prettifyError(rules.error))
      return Response.json(
        await ask(workspace, 'rulesTried', { ...asked, rules: rules.data }, result, request.signal),
      )
    }
    default:
      throw new Refused(
        404,
        `There is no "${what}" of Weigh: ask for sparks, conversions, steps, plan or rules.`,
      )
  }
})

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}
