import * as z from 'zod'
import { isLocale, isZone } from '../shared/days'
import { currencyExponent } from '../shared/money'
import { plainRuleSchema } from '../weigh/plainRules'
import { JUDGED_RESULT } from './judgedResult'

export const creditRules = ['last_click', 'first_click', 'even', 'time_decay'] as const
export type CreditRule = (typeof creditRules)[number]

/** Older names of a zone are taken as well; the schema of files names the present ones. */
export const zone = z
  .string()
  .refine(isZone, 'not an IANA time zone')
  .meta({ enum: ['UTC', ...Intl.supportedValuesOf('timeZone').filter(name => name !== 'UTC')] })

const networkRulesSchema = z.looseObject({
  id: z.string().min(1),
  click_window_days: z.int().min(1).max(365).default(30),
  view_window_days: z.int().min(0).max(365).default(1),
  dated_by: z.enum(['click', 'conversion']).default('conversion'),
  time_zone: zone.optional(),
})
export type NetworkRules = z.infer<typeof networkRulesSchema>

/** What is left of orders of one group of products, where that is another share than of all. */
export const productGroupSchema = z.object({
  name: z.string().min(1).max(200),
  margin: z.number().positive().max(1).optional(),
  /** what each costs besides, in the workspace's currency */
  fee: z.number().nonnegative().optional(),
  /** what one may cost in place of what it leaves, as the fee */
  target_cost: z.number().positive().optional(),
})

/** What is left of the results of one campaign, and what one may cost, where that is another than of all. */
export const campaignRuleSchema = z.object({
  network: z.string().min(1),
  /** the network's own ID */
  campaign: z.string().min(1),
  margin: z.number().positive().max(1).optional(),
  fee: z.number().nonnegative().optional(),
  /** in the workspace's currency, as the fee */
  target_cost: z.number().positive().optional(),
})

/** When a row is cut or raised, and what plain rules stand on top. */
const verdictsSchema = z.object({
  cut_below: z.number().min(0.01).max(0.45).default(0.1),
  raise_above: z.number().min(0.55).max(0.99).default(0.9),
  rules: z.array(plainRuleSchema).max(12).default([]),
})

/** How a business counts: `settings.json` of a folder, and in the app a workspace's settings with its networks' rules. */
export const settingsSchema = z.looseObject({
  currency: z
    .string()
    .refine(c => currencyExponent(c) !== null, 'not an ISO 4217 code')
    .default('EUR'),
  time_zone: zone.default('UTC'),
  /** by whose habit numbers and dates are written (BCP 47); each browser's own where none is said */
  locale: z.string().refine(isLocale, 'not a language tag (BCP 47)').optional(),
  /** the day with which weeks begin: 1 for Monday to 7 for Sunday */
  first_weekday: z.int().min(1).max(7).default(1),
  credit: z.enum(creditRules).default('last_click'),
  click_window_days: z.int().min(1).max(90).default(30),
  /** claims by view may be matched where the network looks back no further than this; 0 for none */
  view_window_days: z.int().min(0).max(90).default(0),
  /** the share of what an order is worth that is left for ads and profit */
  margin: z.number().positive().max(1).default(1),
  /** what every order costs besides, whatever it is worth: payment, packing */
  fee: z.number().nonnegative().default(0),
  product_groups: z.array(productGroupSchema).default([]),
  target_cost: z.number().positive().optional(),
  campaign_rules: z.array(campaignRuleSchema).default([]),
  verdicts: verdictsSchema.prefault({}),
  /** what an order is worth: all of it, or less tax and shipping; refunds are always taken off */
  order_value: z.enum(['gross', 'net']).default('gross'),
  networks: z.array(networkRulesSchema).default([]),
  campaign_key: z.string().default('utm_campaign'),
  ad_set_key: z.string().default('utm_term'),
  ad_key: z.string().default('utm_content'),
  /** hosts that ads may lead to; empty means any */
  hosts: z.array(z.string().min(1)).default([]),
  /** where the tracking domain sends clicks on codes that are unknown or paused */
  fallback_address: z.url({ protocol: /^https?$/ }).optional(),
  /** sources as orders name them, lower case, and the network that each is; empty for one that is no ad */
  source_names: z.record(z.string(), z.string()).default({}),
  /** for how many days page views, hops and what networks were told are kept; no cost stands on them, journeys do; for ever where it is not said */
  keep_days: z.int().min(35).max(3650).optional(),
})
export type Settings = z.infer<typeof settingsSchema>
/** Some settings as they are to be; null for one that is to be none. */
export type SettingsChange = { [Name in keyof Settings]?: Settings[Name] | null }

/** The rules of one network; one that the settings do not list is taken as 30 and 1 days, by conversion. */
export function networkRules(
  settings: Settings,
  network: string,
): Required<Pick<NetworkRules, 'time_zone'>> & NetworkRules {
  const listed = settings.networks.find(n => n.id === network)
  const rules = listed ?? networkRulesSchema.parse({ id: network })
  return { ...rules, time_zone: rules.time_zone ?? settings.time_zone }
}

/**
 * Whether a network's claims by view may be matched. A claim does not say when the view was: those of a
 * network that looks back further than views count can not be told apart, and none of them is taken.
 */
export function viewsCount(settings: Settings, network: string): boolean {
  const { view_window_days } = networkRules(settings, network)
  return view_window_days > 0 && view_window_days <= settings.view_window_days
}

/**
 * Whether somebody has said what is left of a result: a whole one is what nobody has changed. Fees, groups of products and
 * campaigns with a margin of their own say it too.
 */
export const isMarginSaid = (settings: Settings): boolean =>
  settings.margin < 1 ||
  settings.margin_said === true ||
  settings.fee > 0 ||
  [...settings.product_groups, ...settings.campaign_rules].some(own => own.margin !== undefined)

/** What a result may have its own rule of; the workspace's holds where it has none. */
export const ownRules = ['credit', 'click_window_days', 'view_window_days', 'margin'] as const
export type OwnRules = Pick<Settings, (typeof ownRules)[number]>

/**
 * The settings by which one result is counted. The target of the workspace is that of its orders, and so is its fee,
 * where they have none of their own.
 *
 * @param result its fee and target in minor units of its currency, which counts where that is the workspace's
 */
export function settingsFor(
  settings: Settings,
  result: { id?: string; fee?: number | undefined; target?: number | undefined; currency?: string } & {
    [Rule in keyof OwnRules]?: OwnRules[Rule] | undefined
  },
): Settings {
  const { credit, click_window_days, view_window_days, margin } = { ...settings, ...present(result) }
  const isOrder = (result.id ?? JUDGED_RESULT) === JUDGED_RESULT
  const major = (units: number | undefined) =>
    units === undefined || result.currency !== settings.currency
      ? undefined
      : units / 10 ** (currencyExponent(settings.currency) ?? 2)
  const fee = major(result.fee) ?? (isOrder ? settings.fee : 0)
  const { target_cost: ofAll, ...own } = {
    ...settings,
    campaign_rules: isOrder
      ? settings.campaign_rules
      : settings.campaign_rules.map(marginAlone(result.margin)),
    ...(result.margin !== undefined && { margin_said: true }),
    credit,
    click_window_days,
    view_window_days,
    margin,
    fee,
  }
  const target_cost = major(result.target) ?? (isOrder ? ofAll : undefined)
  return target_cost !== undefined ? { ...own, target_cost } : own
}

/** What a campaign's own rule says of results that are no orders: its margin, where they have none of their own. */
const marginAlone =
  (ofResult: number | undefined) =>
  ({
    network,
    campaign,
    margin,
  }: Settings['campaign_rules'][number]): Settings['campaign_rules'][number] => ({
    network,
    campaign,
    ...(margin !== undefined && ofResult === undefined && { margin }),
  })

const present = <T extends object>(some: T) =>
  Object.fromEntries(Object.entries(some).filter(([, value]) => value !== undefined)) as {
    [K in keyof T]: Exclude<T[K], undefined>
  }
