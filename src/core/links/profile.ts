import * as z from 'zod'
import { fieldNames } from '../intake/reports/mapping'
import { zone } from '../intake/settings'
import { outgoingSchema } from '../signals/outgoing'
import { tagCodeSchema } from '../signals/tagCode'
import { sheetProfileSchema } from '../weigh/changeSheet'

/** The levels of a tag plan, outermost first; a network may call them otherwise. */
export const planLevels = ['account', 'campaign', 'ad_set', 'ad'] as const
export type PlanLevel = (typeof planLevels)[number]
const entityLevels = ['campaign', 'ad_set', 'ad'] as const

/** What a neutral token means and how it behaves on a click that a person makes to try a link. */
export const neutralTokens = {
  'campaign.id': 'campaign ID',
  'campaign.name': 'campaign name',
  'ad_set.id': 'ad set ID',
  'ad_set.name': 'ad set name',
  'ad.id': 'ad ID',
  'ad.name': 'ad name',
  placement: 'placement',
  keyword: 'keyword',
  match_type: 'match type',
  device: 'device',
  source: 'source',
  topic: 'topic',
  'click.id': 'click ID',
} as const

/** Tokens a network fills only from a real search, placement or source. */
export const emptyOnTest: ReadonlySet<string> = new Set([
  'keyword',
  'match_type',
  'placement',
  'source',
  'topic',
])

/** `sub.1`, `sub.2` … stand beside the named tokens. */
export const isNeutralToken = (name: string): boolean =>
  Object.hasOwn(neutralTokens, name) || /^sub\.[1-9]\d?$/.test(name)

/** Characters that would end the part of an address in which a value stands, unless a delimiter holds them. */
const BREAKS = /[&?\s]/

/** How a JSON Schema says what the parser asks of one text; it cannot compare one text with another. */
const unbroken = { pattern: '^[^&?\\s]*$' }
const TOKEN_PATTERN = `^(?:${Object.keys(neutralTokens).join('|').replaceAll('.', '\\.')}|sub\\.[1-9]\\d?)$`

const dialectSchema = z
  .object({
    open: z.string().max(10).default('').meta(unbroken),
    close: z.string().max(10).default('').meta(unbroken),
    tokens: z
      .record(z.string(), z.string().min(1).max(100).meta(unbroken))
      .default({})
      .meta({ propertyNames: { pattern: TOKEN_PATTERN } }),
  })
  .meta({
    description:
      'Beyond what this schema can say: no two tokens are written the same, and none is written with what opens or closes it.',
    if: { required: ['tokens'], properties: { tokens: { minProperties: 1 } } },
    // biome-ignore lint/suspicious/noThenProperty: JSON Schema's word, and no promise.
    then: { required: ['open'], properties: { open: { minLength: 1 } } },
    allOf: [
      {
        if: { required: ['open'], properties: { open: { pattern: '%$' } } },
        // biome-ignore lint/suspicious/noThenProperty: JSON Schema's word, and no promise.
        then: { properties: { tokens: { additionalProperties: { not: { pattern: '^[0-9A-F]{2}' } } } } },
      },
    ],
  })
  .superRefine(({ open, close, tokens }, ctx) => {
    const wrong = (path: string[], message: string) => ctx.addIssue({ code: 'custom', path, message })
    const written = Object.entries(tokens)
    if (written.length > 0 && !open) wrong(['open'], 'the characters before a value are missing')
    if (BREAKS.test(open)) wrong(['open'], 'a space, & or ? would break the address apart')
    if (BREAKS.test(close)) wrong(['close'], 'a space, & or ? would break the address apart')
    for (const [token, inner] of written) {
      const at = ['tokens', token]
      if (!isNeutralToken(token)) wrong(at, `there is no token ${token}`)
      else if (BREAKS.test(inner)) wrong(at, 'a space, & or ? would break the address apart')
      else if ((open && inner.includes(open)) || (close && inner.includes(close)))
        wrong(at, `write it without ${open} and ${close}: they are added`)
      else if (open.endsWith('%') && /^[0-9a-f]{2}/i.test(inner) && /^[0-9A-F]{2}/.test(inner))
        wrong(at, 'after % it reads as an encoded character')
      else if (written.some(([other, same]) => other < token && same === inner))
        wrong(at, 'another token is written the same')
    }
  })
export type Dialect = z.infer<typeof dialectSchema>

/** The data sheet of one network, as far as links and reports go. Unknown members are kept. */
export const profileSchema = z.looseObject({
  id: z.string().regex(/^[a-z0-9][a-z0-9_-]*$/, 'a profile ID is lower case letters, digits, - and _'),
  name: z.string().min(1),
  dialect: dialectSchema,
  fields: z
    .array(z.object({ id: z.string().min(1), holds: z.enum(['address', 'query']) }))
    .min(1)
    .default([{ id: 'address', holds: 'address' }]),
  sub_ids: z
    .object({
      limit: z.int().min(0),
      in: z.enum(['query', 'path']),
      names: z.array(z.string()).default([]),
    })
    .optional(),
  max_length: z.int().positive().default(2048),
  review_levels: z.array(z.enum(planLevels)).default([]),
  /** the levels below the account that the network has; what it lacks is passed over in a plan */
  levels: z
    .array(z.enum(entityLevels))
    .refine(levels => levels.includes('ad'), 'every network has ads: the lowest level is needed')
    .meta({ contains: { const: 'ad' } })
    .default([...entityLevels]),
  /** the network's own names for campaign, ad set and ad */
  level_names: z.partialRecord(z.enum(planLevels), z.string()).default({}),
  /** the parameter that the network adds with its own click ID */
  click_id_parameter: z.string().optional(),
  click_window_days: z.int().min(1).max(90).default(30),
  view_window_days: z.int().min(0).max(90).default(1),
  dated_by: z.enum(['click', 'conversion']).default('conversion'),
  time_zone: zone.optional(),
  /** what the network's reports call each of our columns, so that they need not be matched by hand */
  report_columns: z.partialRecord(z.enum(fieldNames), z.string().min(1).max(200)).default({}),
  /** how it takes changes of budgets, and lists of what to leave out, as files */
  sheets: sheetProfileSchema.prefault({}),
  /** for how many days the network learns whom to show a new ad to; its figures say little then */
  learning_days: z.int().min(0).max(60).default(0),
  /** our account at the network, and the code that it gives its customers to install */
  account: z.string().min(1).max(100).optional(),
  tag: tagCodeSchema.optional(),
  /** who places that code on the pages: our tag, or the site itself */
  placed_by: z.enum(['tag', 'site']).default('site'),
  /** the request by which our server tells the network; its secret is kept apart */
  outgoing: outgoingSchema.optional(),
  /** since when our server sends that request; what came about before is not told */
  relayed_since: z.iso.datetime().optional(),
  /** for how many days the relay waits for the shop's word of an order that a browser told of */
  confirmed_within_days: z.int().min(1).max(28).default(7),
  /** the event types that the network has: those with a meaning of their own, and those for anything */
  slots: z
    .object({ standard: z.array(z.string().min(1)), generic: z.array(z.string().min(1)) })
    .default({ standard: [], generic: [] }),
})
export type NetworkProfile = z.infer<typeof profileSchema>

/** The levels of a network's tag plan, outermost first. */
export const levelsOf = ({ levels }: Pick<NetworkProfile, 'levels'>): PlanLevel[] =>
  planLevels.filter(level => level === 'account' || levels.includes(level))

/** A neutral token in the network's own spelling; null when the network cannot supply it. */
export function spell(dialect: Dialect, token: string): string | null {
  const inner = dialect.tokens[token]
  return inner === undefined ? null : dialect.open + inner + dialect.close
}

/** The network's spellings of a dialect, longest first, each with its neutral token. */
export function spellings(dialect: Dialect): [spelling: string, token: string][] {
  return Object.entries(dialect.tokens)
    .map(([token, inner]): [string, string] => [dialect.open + inner + dialect.close, token])
    .sort((a, b) => b[0].length - a[0].length)
}
