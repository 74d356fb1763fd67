import { parseDay, startOfDay } from '@/core/shared/days'
import { pathKey, readPath } from '@/core/shared/path'
import type { Heard } from '@/core/signals/pulse'
import type { ResultDefinition } from '@/core/signals/result'
import type { Database } from '@/data/connect'
import { listPartners } from '@/data/intake'
import { claimSumsSince, claimsSince, listRules, listSlots, ordersSince, resultEvents } from '@/data/signals'
import { listProfiles } from '@/data/workspace'

/** How one receiver hears of a result. */
export interface HeardSignal {
  receiver: string
  /** by what, in words; null where by nothing */
  by: string | null
  /** the network's name for it; null where it has none */
  slot: string | null
  /** whether the slot is one for anything, so that only our own name says what it stands for */
  generic: boolean
  /** who tells it: our tag, the site, our server, the shop, a postback */
  ways: string[]
  /** through what we know of it, which says how long a silence is none yet */
  through: 'tag' | 'shop' | 'files' | 'reports'
  heard: Heard[]
  /** results that share the slot with this one */
  shares: string[]
}

export type ArrivedRows = {
  events: Awaited<ReturnType<typeof resultEvents>>
  orders: Awaited<ReturnType<typeof ordersSince>>
}
export async function rowsSince(database: Database, workspace: string, since: Date): Promise<ArrivedRows> {
  return {
    events: await resultEvents(database, workspace, since),
    orders: await ordersSince(database, workspace, since),
  }
}

/**
 * What networks claim as it was heard: a listed claim when it was made, and of a day’s sum each claim at the very
 * end of that day, or now: nobody says when it was, and until then none is missed.
 */
async function claimsHeard(database: Database, workspace: string, zone: string, since: Date) {
  const listed = await claimsSince(database, workspace, since)
  const summed = await claimSumsSince(database, workspace, since)
  return [
    ...listed.map(({ network, conversion, at, transaction }) => ({
      network,
      conversion,
      heard: [{ at: at.getTime(), transaction }],
    })),
    ...summed.map(({ network, conversion, day, count }) => ({
      network,
      conversion,
      heard: Array.from({ length: count }, () => ({
        at: Math.min(Date.now(), startOfDay((parseDay(day) ?? 0) + 1, zone) - 1),
        transaction: null,
      })),
    })),
  ]
}

/** Of every result what each receiver heard since an instant; networks that hear of most come first. */
export async function gatherHeard(
  database: Database,
  workspace: string,
  definitions: readonly ResultDefinition[],
  { events, orders }: ArrivedRows,
  since: Date,
  zone: string,
) {
  const claims = await claimsHeard(database, workspace, zone, since)
  const slots = await listSlots(database, workspace)
  const rules = await listRules(database, workspace)
  const partners = (await listPartners(database, workspace)).map(p => p.partner)
  const mapped = (network: string) => slots.filter(s => s.network === network).length
  const profiles = (await listProfiles(database, workspace)).sort(
    (a, b) => mapped(b.id) - mapped(a.id) || a.id.localeCompare(b.id),
  )

  const ours = ({ id }: ResultDefinition): HeardSignal => {
    const byRule = rules.filter(r => r.result === id).length
    const told = events.filter(e => e.name === id)
    const booked = orders.filter(o => o.result === id)
    // The shop's word of an order is no repeat of the tag's.
    return {
      receiver: 'Aequant',
      by:
        byRule > 0
          ? `${byRule} ${byRule === 1 ? 'rule' : 'rules'}`
          : booked.length > 0
            ? 'the shop’s orders'
            : null,
      slot: null,
      generic: false,
      ways: [...(byRule > 0 ? ['our tag'] : []), ...(booked.length > 0 ? ['shop'] : [])],
      // Orders that the shop sends have a time of change; those of files do not.
      through: byRule > 0 ? 'tag' : booked.some(o => o.changed_at !== null) ? 'shop' : 'files',
      heard:
        byRule > 0
          ? told.map(e => ({ at: e.at.getTime(), transaction: e.transaction_id }))
          : booked.map(o => ({ at: o.ordered_at.getTime(), transaction: o.order_id })),
      shares: [],
    }
  }
  const theirs = (definition: ResultDefinition, profile: (typeof profiles)[number]): HeardSignal => {
    const network = profile.id
    const slot = slots.find(s => s.network === network && s.result === definition.id)?.slot ?? null
    const partner = partners.find(p => p.id === network && p.result === definition.id)
    const sold = partner ? orders.filter(o => o.order_id.startsWith(`${network}:`)) : []
    const hears = slot !== null && profile.tag !== undefined && profile.account !== undefined
    return {
      receiver: network,
      by: slot ?? (partner ? 'its sales' : null),
      slot,
      generic: slot !== null && profile.slots.generic.includes(slot),
      ways: [
        ...(hears ? [profile.placed_by === 'tag' ? 'our tag' : 'site'] : []),
        ...(slot !== null && profile.outgoing && profile.relayed_since ? ['server'] : []),
        ...(partner ? ['its postback'] : []),
      ],
      through: 'reports',
      heard: [
        ...claims.filter(c => c.network === network && c.conversion === slot).flatMap(c => c.heard),
        ...sold.map(o => ({ at: o.ordered_at.getTime(), transaction: o.order_id })),
      ],
      shares: slot
        ? slots
            .filter(s => s.network === network && s.slot === slot && s.result !== definition.id)
            .map(s => definitions.find(d => d.id === s.result)?.name ?? s.result)
        : [],
    }
  }
  return {
    networks: profiles.map(p => ({ id: p.id, slots: [...p.slots.standard, ...p.slots.generic] })),
    signalsOf: (definition: ResultDefinition): HeardSignal[] => [
      ours(definition),
      ...profiles.map(profile => theirs(definition, profile)),
    ],
    /** conversions that networks report and nobody has mapped */
    unmapped: [...new Set(claims.map(c => pathKey(c.network, c.conversion)))]
      .map(key => readPath(key) as [string, string])
      .filter(([network, conversion]) => !slots.some(s => s.network === network && s.slot === conversion))
      .map(([network, conversion]) => ({ network, conversion })),
  }
}
