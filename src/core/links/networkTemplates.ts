import * as z from 'zod'
import { type NetworkProfile, profileSchema } from './profile'

const { shape } = profileSchema

/** The words for each value that a network has who writes them between two marks; to be corrected. */
const plainWords = {
  'campaign.id': 'campaign_id',
  'campaign.name': 'campaign_name',
  'ad_set.id': 'ad_set_id',
  'ad_set.name': 'ad_set_name',
  'ad.id': 'ad_id',
  'ad.name': 'ad_name',
  keyword: 'keyword',
  placement: 'placement',
  device: 'device',
  'click.id': 'click_id',
}

const between = (open: string, close: string) => ({ dialect: { open, close, tokens: plainWords } })

/** Ways in which networks write a dynamic value, to begin a network's data sheet with. */
export const networkTemplates = {
  none: { dialect: {} },
  braces: between('{', '}'),
  square: between('[[', ']]'),
  percent: between('%', '%'),
  angle: between('<', '>'),
  tilde: between('~', '~'),
  macro: between('${', '}'),
  sub_ids: {
    levels: ['ad' as const],
    dialect: {
      open: '#',
      close: '#',
      tokens: { 'click.id': 'click_id', 'sub.1': 'sub1', 'sub.2': 'sub2', 'sub.3': 'sub3', 'sub.4': 'sub4' },
    },
    sub_ids: { limit: 4, in: 'query', names: ['sub1', 'sub2', 'sub3', 'sub4'] },
  },
} as const satisfies Record<string, Omit<z.input<typeof profileSchema>, 'id' | 'name'>>
export type NetworkTemplate = keyof typeof networkTemplates
const templateNames = Object.keys(networkTemplates) as [NetworkTemplate, ...NetworkTemplate[]]

/** Sources that name no network: letters to customers, search without ads, and visits from nowhere. */
const NO_NETWORK =
  /^\(.*\)$|newsletter|e-?mail|^mail|^sms$|direct|organic|referral|^none$|not.?set|^seo$|^qr|flyer|catalog/i
/** Whether a source that orders carry may be a network, and is worth to be proposed as one. */
export const mayBeNetwork = (source: string): boolean => source !== '' && !NO_NETWORK.test(source)

/** The little that a network begins with; all else is taken from its template. */
export const networkStartSchema = z.object({
  name: shape.name.trim().max(80),
  /** under which orders carry it already; empty where they do not, or by its name */
  source: z.string().trim().max(200).default(''),
  template: z.enum(templateNames),
  click_id_parameter: shape.click_id_parameter,
  click_window_days: shape.click_window_days.unwrap(),
  view_window_days: shape.view_window_days.unwrap(),
  dated_by: shape.dated_by.unwrap(),
})
export type NetworkStart = z.infer<typeof networkStartSchema>

/** What is usual, before anybody says it. */
export const usualStart: NetworkStart = {
  name: '',
  source: '',
  template: 'none',
  click_window_days: shape.click_window_days.parse(undefined),
  view_window_days: shape.view_window_days.parse(undefined),
  dated_by: shape.dated_by.parse(undefined),
}

/**
 * An ID of lower case letters and digits for a name in any script, other than those that are taken.
 *
 * @example
 * networkIdFor('Nördliche Anzeigen', []) // 'nordliche-anzeigen'
 */
export function networkIdFor(name: string, taken: readonly string[]): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/\p{M}+/gu, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40)
  const base = plain || 'network'
  let id = base
  for (let next = 2; taken.includes(id); next++) id = `${base}-${next}`
  return id
}

/** A network's data sheet as its template begins it. */
export const startProfile = ({ template, source: _, ...start }: NetworkStart, id: string): NetworkProfile =>
  profileSchema.parse({ ...networkTemplates[template], ...start, id })
