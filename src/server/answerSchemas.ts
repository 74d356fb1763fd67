// What the application answers by HTTP, for its description and for the test that holds answers against it.
import * as z from 'zod'
import { allCauses } from '@/core/evidence/causes'
import { arrivalProblems } from '@/core/intake/arrivalFilter'
import { reporters } from '@/core/intake/reportedBy'
import { creditRules, settingsSchema } from '@/core/intake/settings'
import { levels } from '@/core/intake/tree'
import { leadsSchema } from '@/core/links/change'
import { namedLevels } from '@/core/links/naming'
import { arrivedAs } from '@/core/links/parameterArrivals'
import { planLevels } from '@/core/links/profile'
import { pageFindingCodes } from '@/core/signals/pageCheck'
import { comparedParts } from '@/core/weigh/compare'
import { doubtKinds } from '@/core/weigh/doubts'
import { moveListSchema } from '@/core/weigh/moves'
import { figures } from '@/core/weigh/openings'
import { tiringIn } from '@/core/weigh/tiring'
import { weekdays } from './arrivals/latest'

export const whole = z.int().min(0)
/** conversions, which networks may credit in thousandths */
const parts = z.number()
export const day = z.iso.date()
export const instantMs = z.number().describe('epoch ms')
export const minorUnits = z.int().describe('minor units of the workspace’s currency')
export const text = z.string()
/** Everything that is refused says why in words. */
export const refused = z.strictObject({ error: text, code: text.optional() })

const named = z.enum(namedLevels)
export const entityRow = z.tuple([
  text,
  named,
  text,
  text,
  text,
  text,
  text.nullable(),
  z.boolean(),
  text.nullable(),
])
export const planRow = z.tuple([text, z.enum(planLevels), text, z.record(text, text)])
const rejects = z.array(z.strictObject({ line: whole, column: text, reason: text, value: text.optional() }))
const nameCheck = z.looseObject({ unfitCount: whole })
export const imported = z.strictObject({
  accepted: whole,
  duplicates: whole,
  cancelled: z.boolean(),
  columns: z.array(z.strictObject({ header: text, takenFor: text })),
  names: nameCheck,
  rejected: rejects,
  batch: text.nullable().describe('the import, by which it can be undone; null where it cannot'),
})

const money = z.number().describe('major units')
const perKind = z.strictObject({ claimed: money, tracked: money, estimate: money })
const ratios = {
  claimed: z.number().nullable(),
  tracked: z.number().nullable(),
  estimate: z.number().nullable(),
}
const worthRange = z.strictObject({ mean: z.number(), low: z.number(), high: z.number() })
const judgedRow = z.strictObject({
  level: z.enum([...levels, 'total']),
  id: text,
  name: text,
  parent_id: text.nullable(),
  network: text,
  spend: money,
  impressions: whole,
  clicks: whole,
  claimed: parts,
  proven: z.number(),
  tagged: z.number(),
  estimate: z.strictObject({ orders: z.number(), low: z.number(), high: z.number() }),
  revenue: perKind,
  cost_per_result: z.strictObject({ ...ratios, low: z.number().nullable(), high: z.number().nullable() }),
  roas: z.strictObject(ratios),
  line: z.number().nullable(),
  worth: worthRange.nullable(),
  verdict: z.strictObject({
    kind: z.enum(['cut', 'hold', 'raise', 'wait']),
    because: text,
    probability: z.number().nullable(),
    needed: z.number().nullable(),
  }),
  results: z
    .array(z.strictObject({ result: text, count: z.number(), value: money }))
    .nullable()
    .describe('all results that it brings, where its verdict rests on several'),
})
export const judgement = z.strictObject({
  settings: z.looseObject({ ...settingsSchema.shape, credit: z.enum(creditRules) }),
  totals: judgedRow,
  rows: z.array(judgedRow),
  gap: z.strictObject({
    orders: whole,
    claims: parts,
    orders_value: money,
    claims_value: money,
    matched: whole,
    causes: z.array(z.strictObject({ cause: text, count: parts, value: money, pairs: whole.optional() })),
  }),
  capture: z.array(
    z.strictObject({
      network: text,
      network_capture: z.number().nullable(),
      own_capture: z.number().nullable(),
      orders_estimated: z.number().nullable(),
    }),
  ),
  findings: z.array(
    z.union([
      z.strictObject({
        code: text,
        severity: z.literal('error'),
        at: z.strictObject({ file: text, line: whole, column: text }),
      }),
      z.strictObject({
        code: z.enum([
          'values_differ_in_basis',
          'one_price',
          'few_pairs',
          'single_network',
          'no_trace',
          'dated_otherwise',
          'no_claims',
          'nothing_claimed',
          'by_parameters',
        ]),
        severity: z.enum(['warning', 'hint']),
        at: z.strictObject({
          network: text.optional(),
          share: z.number().optional(),
          count: whole.optional(),
          by: z.enum(['click', 'conversion']).optional(),
        }),
      }),
      z.strictObject({
        code: z.literal('laid_over_days'),
        severity: z.literal('hint'),
        at: z.strictObject({ network: text, days: whole }),
      }),
      z.strictObject({
        code: z.literal('stretch_cut'),
        severity: z.literal('warning'),
        at: z.strictObject({ network: text, from: text, to: text, counted: whole }),
      }),
      z.strictObject({
        code: z.literal('days_without_report'),
        severity: z.literal('warning'),
        at: z.strictObject({ network: text, from: text, to: text, days: whole, orders: whole }),
      }),
      z.strictObject({
        code: z.literal('by_browsers'),
        severity: z.literal('hint'),
        at: z.strictObject({ results: whole, of: whole }),
      }),
      z.strictObject({
        code: z.literal('not_confirmed'),
        severity: z.literal('hint'),
        at: z.strictObject({ results: whole }),
      }),
      z.strictObject({
        code: z.literal('days_without_claims'),
        severity: z.literal('warning'),
        at: z.strictObject({ network: text, from: text, to: text, orders: whole }),
      }),
      z.strictObject({
        code: z.literal('rate_assumed'),
        severity: z.literal('hint'),
        at: z.strictObject({ currency: text, after: text }),
      }),
      z.strictObject({
        code: z.literal('other_result'),
        severity: z.literal('hint'),
        at: z.strictObject({ result: text, count: whole }),
      }),
      z.strictObject({
        code: z.enum(['default_name', 'name_changed', 'duplicate_name', 'reserved_character_in_name']),
        severity: z.enum(['warning', 'hint']),
        at: z.strictObject({ part: z.literal('name'), level: z.enum(planLevels), id: text }),
        name: text.optional(),
        names: z.array(text).optional(),
        ids: z.array(text).optional(),
        characters: text.optional(),
      }),
    ]),
  ),
})

const credited = z.strictObject({
  network: text,
  campaignId: text,
  campaign: text,
  ad: text,
  share: z.number(),
  clickId: text.nullable(),
  clickedAt: instantMs.nullable(),
})
export const openedFigure = z.strictObject({
  currency: text,
  figure: z.enum(figures),
  lists: z.array(z.enum(['orders', 'claims', 'days'])),
  amount: z.number().nullable(),
  worth: z.number(),
  parts: z
    .strictObject({
      over: z.strictObject({ figure: z.enum(figures), amount: z.number().nullable(), worth: z.boolean() }),
      under: z.strictObject({ figure: z.enum(figures), amount: z.number().nullable(), worth: z.boolean() }),
    })
    .nullable(),
  orderCount: whole,
  orderParts: z.number(),
  orderAdded: z.number(),
  claimCount: whole,
  claimValue: minorUnits,
  days: z.array(z.strictObject({ day, spend: minorUnits, impressions: whole, clicks: whole, seen: whole })),
  orders: z.array(
    z.strictObject({
      id: text,
      at: instantMs,
      status: text,
      counts: z.boolean(),
      told: z.boolean().describe('whether a rule of the tag alone tells of it'),
      value: minorUnits,
      grade: z.enum(['proven', 'tagged', 'claimed', 'unplaced']),
      by: text.nullable(),
      touches: whole,
      credits: z.array(credited),
      part: z.number(),
      added: z.number(),
      fate: text.nullable(),
    }),
  ),
  claims: z.array(
    z.strictObject({
      at: instantMs.nullable(),
      day,
      network: text,
      ad: text,
      kind: z.enum(['click', 'view']),
      value: minorUnits,
      fate: text.nullable(),
      matchedBy: text.nullable(),
      order: z.strictObject({ id: text, status: text, left: text.nullable(), credits: whole }).nullable(),
      transaction: text.nullable(),
    }),
  ),
})

const maybeNumber = z.number().nullable()
const comparedSide = z.strictObject({
  from: day,
  to: day,
  spend: z.number(),
  impressions: whole,
  clicks: whole,
  estimated: z.number(),
  claimed: parts,
  cost_per_claim: maybeNumber,
  cost_per_result: maybeNumber,
  capture: maybeNumber,
})
const gap = z.strictObject({
  orders: whole,
  ordersValue: minorUnits,
  claims: parts,
  claimsValue: minorUnits,
  matched: whole,
  causes: z.array(
    z.strictObject({
      cause: z.enum(allCauses as [string, ...string[]]),
      count: parts,
      value: minorUnits,
      pairs: whole.optional(),
    }),
  ),
})
/** The gap of networks, campaigns, ad sets or ads, each by its path. */
export const gapParts = z.array(z.strictObject({ path: z.array(text), name: text, gap }))
/** What a part of Reconcile shows, with the settings that made it. */
export const reconciliation = z.strictObject({
  from: day,
  to: day,
  network: text.nullable(),
  result: text,
  settings: z.record(text, z.unknown()),
  shows: z.record(text, z.unknown()).nullable(),
})
/** Days on which capture or the real cost changed, as days since 1970-01-01. */
export const turns = z.array(
  z.strictObject({
    of: z.enum(['capture', 'real_cost']),
    day: z.int(),
    from: z.int(),
    to: z.int(),
    probability: z.number(),
  }),
)

/** What changed between two periods. */
export const comparison = z.strictObject({
  first: comparedSide,
  second: comparedSide,
  log_change: maybeNumber,
  parts: z.array(
    z.strictObject({
      part: z.enum(comparedParts),
      log: maybeNumber,
      low: maybeNumber,
      high: maybeNumber,
      share: maybeNumber,
    }),
  ),
  change_days: z.array(
    z.strictObject({
      of: z.enum(['capture', 'real_cost']),
      day,
      from: day,
      to: day,
      probability: z.number(),
    }),
  ),
  sentence: text,
})

/** Something that was settled by hand. */
export const decision = z.looseObject({
  about: z.enum(['test', 'channel', 'result', 'claim', 'customers']),
  id: text,
  by: text,
  at: instantMs,
  why: text,
})

const resultSums = z.array(
  z.strictObject({ result: text, tenths: z.number(), value: z.number().describe('minor units') }),
)

export const weighRow = z.strictObject({
  level: z.enum(levels),
  path: z.array(text),
  id: text,
  name: text,
  formerNames: z.array(text),
  network: text,
  parentId: text.nullable(),
  sums: z.record(text, z.number()),
  low: z.number(),
  high: z.number(),
  variance: z.number(),
  squares: z.number(),
  leaves: z.number(),
  leavesSquares: z.number(),
  worth: worthRange.nullable(),
  line: z.number().nullable(),
  rate: z.strictObject({ log: z.number(), variance: z.number() }).nullable(),
  left: z.number().nullable().describe('what one more result leaves'),
  verdict: z.strictObject({
    kind: text,
    because: text,
    probability: z.number().nullable(),
    needed: z.number().nullable(),
  }),
  byResult: resultSums.nullable().describe('what each of several results brought'),
  restsOn: z
    .strictObject({ results: resultSums, sums: z.record(text, z.number()) })
    .nullable()
    .describe('all results of its ads, where its verdict rests on several'),
  firstSpent: z.number().nullable().describe('days since 1970-01-01'),
  lastSpent: z.number().nullable(),
  active: z.boolean().nullable(),
  doubts: z.array(z.enum(doubtKinds)),
  tires: z.array(z.strictObject({ in: z.enum(tiringIn), left: z.number(), chance: z.number() })),
})
/** What columns and panels of Weigh show: by a row's path, written as JSON. */
export const weighPart = z.union([
  z.record(text, z.strictObject({ spend: z.array(z.number()), results: z.array(z.number()) })),
  z.strictObject({ names: z.array(text), rows: z.record(text, z.array(whole.nullable())) }),
  z.strictObject({
    steps: z.array(z.strictObject({ id: text, name: text, optional: z.boolean() })),
    rows: z.record(text, z.array(whole)),
  }),
  z.strictObject({
    measured: z.strictObject({ elasticity: z.number(), error: z.number() }).nullable(),
  }),
  z.array(z.looseObject({ day: z.number(), earned: z.boolean() })),
])
export const laterBought = z.strictObject({
  leads: whole,
  buyers: whole,
  mean: z.number(),
  low: z.number(),
  high: z.number(),
  days: whole,
})
export const keptMoves = z.strictObject({
  list: moveListSchema,
  applied: z.record(text, text),
  undoneAt: instantMs.nullable(),
})
export const found = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('ad'), network: text, id: text, name: text, campaign: text }),
  z.strictObject({ kind: z.literal('order'), id: text, status: text }),
  z.strictObject({ kind: z.literal('link'), code: text, title: text }),
  z.strictObject({ kind: z.literal('rule'), id: text, result: text }),
])
export const opening = z.strictObject({
  stage: z.enum(['reading', 'gathering', 'computing', 'open']).nullable(),
})
export const health = z.strictObject({
  status: z.enum(['ok', 'degraded']),
  version: text,
  database: z.enum(['ok', 'unreachable']),
  disk: z.enum(['ok', 'full']),
  collector: z.strictObject({
    alive: z.boolean(),
    status: text,
    lag_records: whole,
    lag_seconds: z.number(),
  }),
  failing: z.array(z.strictObject({ work: text, since: z.iso.datetime() })),
  left_out: z.array(z.looseObject({ what: text, why: text })),
})
export const findings = z.array(
  z.strictObject({
    code: z.enum(pageFindingCodes),
    severity: z.enum(['error', 'warning']),
    at: z.union([
      z.strictObject({ line: whole }),
      z.strictObject({ request: whole, address: text }),
      z.strictObject({ page: text }),
    ]),
    network: text,
    event: text.optional(),
    seen: text.optional(),
  }),
)

const parameterFate = z.strictObject({
  key: text,
  fate: z.enum(['kept', 'lost', 'doubled', 'encoded_again', 'decoded', 'changed', 'added']),
  before: text.nullable(),
  after: text.nullable(),
})
export const triedLink = z.strictObject({
  hops: z.array(
    z.strictObject({
      leg: z.enum(['landing', 'offer']),
      address: text,
      status: whole.describe('0 where nothing answered'),
      took: z.number().describe('ms'),
      parameters: z.array(parameterFate),
    }),
  ),
  findings: z.array(
    z.strictObject({
      code: text,
      hop: whole.optional(),
      key: text.optional(),
      host: text.optional(),
      why: text.optional(),
      status: whole.optional(),
      fragment: text.optional(),
    }),
  ),
  reached: z.boolean(),
})

/** What arrived of each parameter, and what arrived of each ad's. */
export const gatheredArrivals = z.strictObject({
  days: whole,
  clicks: whole,
  cut: z.boolean(),
  parameters: z.array(
    z.strictObject({
      network: text,
      key: text,
      token: text.nullable(),
      counts: z.record(z.enum(arrivedAs), whole),
      values: z.array(
        z.strictObject({
          as: z.enum(arrivedAs),
          value: text,
          count: whole,
          ad: text,
          level: z.enum(planLevels),
          names: text.nullable(),
        }),
      ),
    }),
  ),
  names: z.record(text, z.strictObject({ name: text, former: z.array(text) })),
  unknown: z.array(
    z.strictObject({
      network: text,
      level: z.enum(levels),
      value: text,
      clicks: whole,
      last: instantMs,
    }),
  ),
  undecided: z
    .array(
      z.strictObject({
        network: text,
        level: z.enum(levels),
        id: text,
        name: text,
        fits: z.array(z.strictObject({ id: text, campaign: text, adSet: text })),
      }),
    )
    .describe('added without an ID, and of the name and place of several that reports name'),
})
const keys = z.array(text)
export const arrivalsOfAds = z.record(
  text,
  z.strictObject({ lastDay: whole, unresolved: keys, empty: keys, unknown: keys, missing: keys }),
)

export const orderTaken = z.strictObject({ order: text, outcome: z.enum(['taken', 'again', 'older']) })
export const orderAside = z.strictObject({ order: text, outcome: z.literal('set_aside') })

const maybe = text.nullable()
const arrival = {
  id: text,
  at: instantMs,
  weekday: z.enum(weekdays),
  hour: whole,
  problem: z.enum(arrivalProblems).nullable(),
  reportedBy: z.enum(reporters).describe('who vouches for it'),
  landing: maybe,
  parameters: z.array(z.tuple([text, text])),
  raw: z.record(text, z.unknown()).describe('the record as it is kept'),
}
export const anyArrival = z.discriminatedUnion('kind', [
  z.strictObject({
    ...arrival,
    kind: z.literal('click'),
    network: text,
    campaign: maybe,
    ad: maybe,
    device: maybe,
    placement: maybe,
    keyword: maybe,
    visitor: maybe,
    networkClickId: maybe,
    country: maybe,
    bot: z.boolean(),
    repeated: z.boolean(),
  }),
  z.strictObject({
    ...arrival,
    kind: z.literal('event'),
    name: text,
    value: maybe,
    currency: maybe,
    transaction: maybe,
    click: maybe,
    visitor: maybe,
    country: maybe,
    bot: z.boolean(),
  }),
  z.strictObject({ ...arrival, kind: z.literal('hop'), code: text, click: maybe, visitor: maybe }),
  z.strictObject({
    ...arrival,
    kind: z.literal('postback'),
    partner: text,
    deal: maybe,
    status: maybe,
    click: maybe,
  }),
  z.strictObject({
    ...arrival,
    kind: z.literal('order'),
    status: text,
    total: minorUnits,
    currency: text,
    result: text,
    evidence: z.looseObject({ id: text }).nullable().describe('the order, with the evidence for it'),
  }),
  z.strictObject({
    ...arrival,
    kind: z.literal('report'),
    file: text,
    holds: text,
    network: maybe,
    accepted: whole,
    known: whole,
    rejected: whole,
  }),
])
const kindsByMinute = ['click', 'event', 'hop', 'postback', 'order'] as const
export const minutes = z.strictObject({
  until: instantMs,
  counts: z.record(z.enum(kindsByMinute), z.array(whole)),
})

/** What somebody else had changed since. */
export const metOther = z.discriminatedUnion('what', [
  z.strictObject({
    what: z.literal('plan'),
    network: text,
    level: z.enum(planLevels),
    scope: text,
    key: text,
    theirs: maybe,
    replaced: z.boolean(),
  }),
  z.strictObject({
    what: z.literal('ad'),
    network: text,
    ad: text,
    theirs: leadsSchema,
    replaced: z.boolean(),
  }),
])

/** A live test as far as it has come. */
export const describedTest = z.strictObject({
  open: text,
  startedAt: instantMs,
  running: z.boolean(),
  clicks: z.array(z.strictObject({ at: instantMs, network: text, code: text })),
  pages: z.array(
    z.strictObject({
      view: text,
      address: text,
      title: text,
      opened: instantMs,
      rested: z.boolean(),
      results: z.array(
        z.strictObject({
          id: text,
          at: instantMs,
          result: text,
          rule: maybe,
          view: text,
          page: text,
          transaction: maybe,
          value: maybe,
          currency: maybe,
          event_id: text,
          again: z.boolean(),
          networks: z.array(
            z.strictObject({
              network: text,
              slot: text,
              placedBy: z.enum(['tag', 'site']),
              state: z.enum(['sent', 'called', 'held_back', 'not_loaded', 'not_run', 'missing', 'awaited']),
              request: maybe,
            }),
          ),
        }),
      ),
      missing: z.array(text),
      waiting: z.array(text),
      findings,
      errors: z.array(z.strictObject({ said: text, line: z.number().nullable() })),
      relays: z.array(
        z.strictObject({
          network: text,
          event_id: text,
          state: text,
          tries: z.array(z.strictObject({ at: instantMs, status: z.number().nullable(), said: text })),
        }),
      ),
    }),
  ),
  names: z.record(text, text).describe('of the results, by ID'),
})
