import { countsAsOrder } from '@/core/intake/records'
import { leafNumbers, nameOf, pathAt } from '@/core/intake/tree'
import { append } from '@/core/shared/append'
import { type Period, startOfDay } from '@/core/shared/days'
import { pathKey, readPath } from '@/core/shared/path'
import {
  countReached,
  type Happening,
  type Journey,
  type Step,
  type WeakestStep,
  walkJourney,
  weakestStep,
} from '@/core/signals/journey'
import { matchesAddress } from '@/core/signals/matchAddress'
import { billedUntil, latestBilled } from '@/core/weigh/billed'
import type { Evidence } from '@/core/weigh/evidence'
import type { Scope } from '@/core/weigh/scope'
import type { Executor } from '@/data/connect'
import { clicksNamedBetween, eventsBetween, ordersBetween, type ShopperEvent } from '@/data/journeys'
import { orderStatuses } from '@/data/signals'

/** The steps of one campaign's shoppers, or of all. */
export interface Walked {
  counts: number[]
  /** minor units; null for shoppers who came by no ad */
  spend: number | null
  weakest: WeakestStep | null
}
export interface WalkedJourney {
  /** the steps that were walked: the screen may have others by now */
  steps: Journey['steps']
  currency: string
  /** shoppers who came by an ad of the scope; spend of the campaigns of which any shopper was seen */
  whole: Walked
  /** the same in as many days before; null where nothing was seen then */
  before: number[] | null
  /** without counts where clicks are billed and none of their shoppers was seen on the site: nobody counted them */
  campaigns: (Omit<Walked, 'counts'> & {
    counts: number[] | null
    network: string
    campaign: string
    name: string
  })[]
  /** shoppers of whom no ad click is known, where the scope is everything */
  withoutAd: number[] | null
}

/** How many of each row reached each step. */
export interface WalkedRows {
  steps: Pick<Step, 'id' | 'name' | 'optional'>[]
  rows: Record<string, number[]>
}

/** Shoppers by number, each with the last ad click that is known of them. */
interface Shoppers {
  happenings: Happening[]
  /** leaf numbers of the tree; -1 for none */
  leafOf: number[]
}

/**
 * A journey in a period: how many shoppers reached each step, what a step cost, and where most are lost, for
 * all and by campaign. A shopper belongs to the campaign of their last ad click by then.
 */
export async function walkedJourney(
  database: Executor,
  workspace: string,
  evidence: Evidence,
  journey: Journey,
  { period, scope }: { period: Period; scope: Scope },
): Promise<WalkedJourney> {
  const days = period.to - period.from + 1
  const earlier = { from: period.from - days, to: period.from - 1 }
  const [now, past] = [
    await gatherShoppers(database, workspace, evidence, journey, period),
    await gatherShoppers(database, workspace, evidence, journey, earlier),
  ]
  const { tree, delivery } = evidence.data
  const isMeant = (leaf: number) => !scope.network || tree.leaves[leaf]!.network === scope.network
  const length = journey.steps.length
  const campaignOf = tree.leaves.map(leaf => pathKey(leaf.network, leaf.campaign))
  /** Steps reached, of each shopper who came by an ad of the scope by its campaign, and of those who came by none. */
  const walk = ({ happenings, leafOf }: Shoppers) => {
    const byCampaign = new Map<string, boolean[][]>()
    const withoutAd: boolean[][] = []
    for (const [who, reached] of walkJourney(journey.steps, happenings)) {
      const leaf = leafOf[who]!
      if (leaf < 0) withoutAd.push(reached)
      else if (isMeant(leaf)) append(byCampaign, campaignOf[leaf]!, reached)
    }
    return { byCampaign, withoutAd }
  }
  const walked = walk(now)
  const spends = new Map<string, number>()
  const clicked = new Set<string>()
  for (const row of delivery)
    if (row.day >= period.from && row.day <= period.to && isMeant(row.leaf)) {
      const key = campaignOf[row.leaf]!
      spends.set(key, (spends.get(key) ?? 0) + row.spend)
      if (row.clicks > 0) clicked.add(key)
    }
  const isUnseen = (key: string) => clicked.has(key) && !walked.byCampaign.has(key)

  const countOf = (reached: Iterable<readonly boolean[]>) => countReached(length, reached)
  const counts = countOf([...walked.byCampaign.values()].flat())
  const before = countOf([...walk(past).byCampaign.values()].flat())
  const keys = new Set([...spends.keys(), ...walked.byCampaign.keys()])
  const campaigns = [...keys].map(key => {
    const [network, campaign] = readPath(key) as [string, string]
    const own = countOf(walked.byCampaign.get(key) ?? [])
    return {
      network,
      campaign,
      name: campaign ? nameOf(tree, network, 'campaign', campaign) : '',
      counts: isUnseen(key) ? null : own,
      spend: spends.get(key) ?? 0,
      weakest: weakestStep(journey.steps, own, counts),
    }
  })
  return {
    steps: journey.steps,
    currency: evidence.data.settings.currency,
    whole: {
      counts,
      spend: [...spends].reduce((sum, [key, spend]) => (isUnseen(key) ? sum : sum + spend), 0),
      weakest: weakestStep(journey.steps, counts, before[0] ? before : null),
    },
    before: before[0] ? before : null,
    campaigns: campaigns.sort((a, b) => (b.spend ?? 0) - (a.spend ?? 0)),
    withoutAd: scope.network ? null : countOf(walked.withoutAd),
  }
}

/**
 * How many people of each campaign, ad set and ad reached each step of a journey, by the row's path; those of all ads
 * together under the scope's own. Of each network as if the period ended with the last day of which it has told what
 * it spent: what follows would make steps look cheap.
 */
export async function walkedRows(
  database: Executor,
  workspace: string,
  evidence: Evidence,
  journey: Journey,
  { period, scope }: { period: Period; scope: Scope },
): Promise<WalkedRows> {
  const { leaves, networks, networkOf } = evidence.data.tree
  const told = billedUntil(evidence.data)
  const latest = latestBilled(told) ?? period.to
  const ends = told.map(day => Math.min(period.to, day ?? latest))
  const meant = ends.filter((_, n) => !scope.network || networks[n] === scope.network)
  const reached = new Map<string, boolean[][]>()
  for (const to of new Set(meant)) {
    const { happenings, leafOf } = await gatherShoppers(database, workspace, evidence, journey, {
      ...period,
      to,
    })
    for (const [who, steps] of walkJourney(journey.steps, happenings)) {
      const own = leafOf[who]!
      const leaf = leaves[own]
      if (!leaf || ends[networkOf[own]!] !== to || (scope.network && leaf.network !== scope.network)) continue
      const whole = scope.network ? [scope.network] : []
      for (const path of [whole, pathAt(leaf, 'campaign'), pathAt(leaf, 'ad_set'), pathAt(leaf, 'ad')])
        append(reached, pathKey(...path), steps)
    }
  }
  return {
    steps: journey.steps.map(({ id, name, optional }) => ({ id, name, optional })),
    rows: Object.fromEntries(
      [...reached].map(([key, all]) => [key, countReached(journey.steps.length, all)]),
    ),
  }
}

async function gatherShoppers(
  database: Executor,
  workspace: string,
  { data }: Evidence,
  journey: Journey,
  { from, to }: Period,
): Promise<Shoppers> {
  const zone = data.settings.time_zone
  const [start, end] = [new Date(startOfDay(from, zone)), new Date(startOfDay(to + 1, zone))]
  const events = await eventsBetween(database, workspace, start, end)
  const results = events.filter(e => e.result !== null)
  const statuses = await orderStatuses(
    database,
    workspace,
    results.flatMap(e => e.transaction ?? []),
  )
  // What the shop cancelled was no result, whatever the thank-you page told.
  const told = events.filter(({ result, transaction }) => {
    const status = result === null || transaction === null ? undefined : statuses.get(transaction)
    return status === undefined || countsAsOrder(status)
  })
  const booked = (await ordersBetween(database, workspace, start, end))
    .filter(o => countsAsOrder(o.status))
    .map((o): ShopperEvent => ({ ...o, page: null }))
  const stepsOf = stepFinder(journey)
  const clicks = await clicksNamedBetween(database, workspace, start!, end!)
  const leafNumber = leafNumbers(data.tree)

  const visitorOfClick = new Map<string, string>()
  for (const { visitor, click } of told) if (visitor && click) visitorOfClick.set(click, visitor)
  const numbers = new Map<string, number>()
  const leafOf: number[] = []
  const lastClick: number[] = []
  const happenings: Happening[] = []
  for (const event of [...told, ...booked]) {
    const who = event.visitor ?? (event.click && (visitorOfClick.get(event.click) ?? event.click))
    if (!who) continue
    let number = numbers.get(who)
    if (number === undefined) {
      numbers.set(who, (number = numbers.size))
      leafOf.push(-1)
      lastClick.push(Number.NEGATIVE_INFINITY)
    }
    const click = event.click === null ? undefined : clicks.get(event.click)
    if (click !== undefined && click.at > lastClick[number]!) {
      lastClick[number] = click.at
      leafOf[number] = leafNumber(click.ad)
    }
    const steps = stepsOf(event)
    if (steps.length > 0) happenings.push({ who: number, at: event.at, steps })
  }
  return { happenings, leafOf }
}

/** Which steps an event is; each address is looked at once. */
function stepFinder({ steps }: Journey): (event: ShopperEvent) => readonly number[] {
  const byPage = new Map<string, number[]>()
  const byResult = new Map<string, number[]>()
  const numbered = steps.map(({ by }, i) => ({ by, i }))
  return ({ page, result }) => {
    const [known, key] = result === null ? [byPage, page ?? ''] : [byResult, result]
    let found = known.get(key)
    if (!found) {
      found = numbered
        .filter(({ by }) =>
          result === null
            ? by.on === 'page' && page !== null && matchesAddress(by.where, page)
            : by.on === 'result' && by.result === result,
        )
        .map(({ i }) => i)
      known.set(key, found)
    }
    return found
  }
}
