import { CLICK_PARAMETER, CODE_PARAMETER, TEST_PARAMETER } from '../intake/routing'
import { append } from '../shared/append'
import { foreignToken } from './check'
import { type Destination, parseDestination } from './destination'
import { type NetworkProfile, spellings } from './profile'
import { parseTemplate, writeTemplate } from './template'

/** What was mended before the address could be read at all. */
export type PasteRepair = 'line_breaks' | 'quotes' | 'html_ampersands' | 'scheme_added'

/** Whose a parameter is: of the tag plan, the page's own, or one that the network or we add at the click. */
export type Belongs = 'plan' | 'sub_id' | 'page' | 'click_id'

export interface TakenParameter {
  key: string
  /** in Aequant's neutral writing */
  template: string
  belongs: Belongs
}

export interface TakenApart {
  /** ID of the profile by whose dialect it was read */
  profile: string
  /** tokens that were recognised */
  recognised: number
  /** the address without what belongs to the plan or is added at the click; empty for parameters alone */
  destination: string
  /** in the order of the address */
  parameters: TakenParameter[]
  repairs: (PasteRepair | Destination['repairs'][number])[]
}

/** Parameters that the tracking domain adds itself. */
const OWN_PARAMETERS: ReadonlySet<string> = new Set([CLICK_PARAMETER, TEST_PARAMETER, CODE_PARAMETER])
const QUERY_ALONE = /^\??[\w.~[\]-]+=/
const NOWHERE = 'https://nowhere.invalid/'

/** Mends what copying does to an address: broken lines, quotes around it, `&amp;`, a lost scheme. */
function mendPaste(pasted: string): { text: string; repairs: PasteRepair[]; queryAlone: boolean } {
  const repairs: PasteRepair[] = []
  const step = (repair: PasteRepair, next: string) => {
    if (next === text) return
    repairs.push(repair)
    text = next
  }
  let text = pasted.trim()
  step('line_breaks', text.replace(/\s*[\r\n]+\s*/g, ''))
  step('quotes', text.replace(/^(["'“”‘’«»]|<(?=https?:))(.*?)["'“”‘’«»>]$/s, '$2'))
  step('html_ampersands', text.replaceAll('&amp;', '&'))
  const queryAlone = QUERY_ALONE.test(text)
  if (queryAlone) text = NOWHERE + (text.startsWith('?') ? '' : '?') + text
  else if (!/^[a-z][a-z0-9+.-]*:/i.test(text) && /^[\w-]+(\.[\w-]+)+([/?#:]|$)/.test(text))
    step('scheme_added', `https://${text}`)
  return { text, repairs, queryAlone }
}

/** Path segments from the first one that holds a token on: sub-IDs, at a network that puts them there. */
function splitPath(base: string, profile: NetworkProfile, restore: Restore) {
  if (profile.sub_ids?.in !== 'path') return { base, subIds: [] }
  const [scheme, rest = ''] = base.split(/(?<=^https?:\/\/)/)
  const segments = rest.split('/')
  const first = segments.findIndex((s, i) => i > 0 && restore(s, () => '') !== s)
  if (first < 0) return { base, subIds: [] }
  return {
    base: scheme + segments.slice(0, first).join('/'),
    subIds: segments.slice(first).filter(Boolean).map(decodeOrKeep),
  }
}
type Restore = (part: string, write: (token: string) => string) => string

function decodeOrKeep(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

function takeApartBy(
  { text, repairs, queryAlone }: ReturnType<typeof mendPaste>,
  profile: NetworkProfile,
  planKeys: ReadonlySet<string>,
): (TakenApart & { spelled: number }) | null {
  const parsed = parseDestination(text, profile.dialect, planKeys)
  if (!parsed) return null
  const { destination, restore } = parsed
  const neutral = (part: string) => {
    const template = restore(part, token => `{${token}}`)
    // A browser encodes the delimiters on its way: decoded, they are the network's spelling again.
    return writeTemplate(parseTemplate(template, profile.dialect))
  }
  const path = splitPath(destination.base, profile, restore)
  const subNames = profile.sub_ids?.in === 'query' ? profile.sub_ids.names : []
  const fromQuery = destination.query.map(({ key: rawKey, value }): TakenParameter => {
    const key = restore(rawKey, token => `{${token}}`)
    const template = neutral(value)
    const hasToken = parseTemplate(template).some(s => s.kind === 'token')
    const belongs: Belongs =
      OWN_PARAMETERS.has(key) || (key === profile.click_id_parameter && !hasToken)
        ? 'click_id'
        : subNames.includes(key)
          ? 'sub_id'
          : hasToken || key.toLowerCase().startsWith('utm_') || planKeys.has(key)
            ? 'plan'
            : 'page'
    return { key, template, belongs }
  })
  const fromPath = path.subIds.map(
    (part, i): TakenParameter => ({
      key: profile.sub_ids?.names[i] ?? `sub${i + 1}`,
      template: neutral(part),
      belongs: 'sub_id',
    }),
  )
  const parameters = [...fromPath, ...fromQuery]
  const inDialect = (token: string) => token in profile.dialect.tokens
  const recognised = parameters
    .flatMap(p => parseTemplate(p.template))
    .filter(s => s.kind === 'token' && inDialect(s.token)).length
  const kept = destination.query.filter((_, i) => fromQuery[i]?.belongs === 'page').map(q => q.raw)
  const write = (part: string) => restore(part, token => `{${token}}`)
  const page = write(path.base) + (kept.length > 0 ? `?${kept.map(write).join('&')}` : '')
  return {
    profile: profile.id,
    recognised,
    spelled: spellings(profile.dialect).filter(([spelling]) => text.includes(spelling)).length,
    destination: queryAlone ? '' : page + write(destination.fragment),
    parameters,
    repairs: [...repairs, ...destination.repairs],
  }
}

/** What of a pasted address is not taken as it stands, or may not be meant. */
export interface PasteDoubts {
  /** values that another network would fill: they are plain text to the one it was read by */
  foreign: { key: string; text: string; profile: string }[]
  /** keys that stood more than once; the last value is taken */
  twice: { key: string; kept: string; dropped: string[] }[]
}

/** Says of an address that was taken apart what somebody should look at before using it. */
export function pasteDoubts(taken: TakenApart, profiles: readonly NetworkProfile[]): PasteDoubts {
  const own = profiles.find(p => p.id === taken.profile)
  const foreign = taken.parameters.flatMap(({ key, template }) => {
    const literal = parseTemplate(template)
      .map(s => (s.kind === 'literal' ? s.text : ' '))
      .join('')
    const found = own && foreignToken(literal, profiles, own)
    return found ? [{ key, ...found }] : []
  })
  const byKey = new Map<string, string[]>()
  for (const { key, template } of taken.parameters) append(byKey, key, template)
  const twice = [...byKey].flatMap(([key, values]) => {
    return values.length > 1 ? [{ key, kept: values.at(-1)!, dropped: values.slice(0, -1) }] : []
  })
  return { foreign, twice }
}

/**
 * Takes a tagged address from anywhere apart into its destination, parameters and recognised tokens: by
 * the profile whose dialect it is written in, which its spellings, its click ID parameter and its
 * `utm_source` tell. Parameters alone, as a network's query field holds them, are taken too.
 *
 * @param profiles the profiles that may have written it; with one alone, that one is used
 * @param preferred ID of the profile that is taken when nothing tells
 * @returns null when it is no http(s) address and no parameters
 * @example
 * takeApart('https://tarnbrook.example/?lang=pt&utm_content=[[ad_title]]', { profiles })
 * // { profile: 'norrfeed', destination: 'https://tarnbrook.example/?lang=pt',
 * //   parameters: [lang=pt of the page, utm_content={ad.name} of the plan], … }
 */
export function takeApart(
  pasted: string,
  {
    profiles,
    preferred,
    planKeys = new Set(),
  }: { profiles: readonly NetworkProfile[]; preferred?: string; planKeys?: ReadonlySet<string> },
): TakenApart | null {
  const mended = mendPaste(pasted)
  let best: { taken: TakenApart; score: number } | null = null
  for (const profile of profiles) {
    const read = takeApartBy(mended, profile, planKeys)
    if (!read) continue
    const { spelled, ...taken } = read
    const source = taken.parameters.find(p => p.key.toLowerCase() === 'utm_source')?.template.toLowerCase()
    const named = source !== undefined && [profile.id, profile.name.toLowerCase()].includes(source)
    const hasClickId = taken.parameters.some(p => p.key === profile.click_id_parameter)
    const score =
      10 * (taken.recognised + spelled) +
      (named ? 6 : 0) +
      (hasClickId ? 6 : 0) +
      (profile.id === preferred ? 1 : 0)
    if (!best || score > best.score) best = { taken, score }
  }
  return best?.taken ?? null
}
