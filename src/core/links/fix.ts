import type { AssembledLink } from './assemble'
import type { LinkChange, Parameters, PlanScope } from './change'
import { parseDestination } from './destination'
import type { LinkFinding } from './finding'
import { type NetworkProfile, type PlanLevel, planLevels, spell, spellings } from './profile'
import { parseTemplate, writeTemplate } from './template'

/** What a fix works on: one ad's link, the parameters that each level above it sets, and where it leads. */
export interface FixContext {
  link: AssembledLink
  profile: NetworkProfile
  otherProfiles: readonly NetworkProfile[]
  own: Record<PlanLevel, Parameters>
  scope: (level: PlanLevel) => PlanScope
  ad: { network: string; id: string; landingPage: string | null; straight: boolean }
}

/** The change of one level's parameters. */
function plan(
  { own, scope }: FixContext,
  level: PlanLevel,
  change: (parameters: Parameters) => Parameters,
): LinkChange[] {
  return [{ what: 'plan', ...scope(level), before: own[level], after: change(own[level]) }]
}

/** The value of a parameter written otherwise, at the level that sets it. */
function rewrite(
  context: FixContext,
  finding: Pick<LinkFinding, 'at'>,
  change: (template: string) => string,
): LinkChange[] {
  if (finding.at.part !== 'parameter') return []
  const { key } = finding.at
  const { dialect } = context.profile
  const level = context.link.origin[key]
  if (level) {
    const template = context.own[level][key] ?? ''
    const changed = change(template)
    return changed === template ? [] : plan(context, level, own => ({ ...own, [key]: changed }))
  }
  return landing(context, page => {
    page.query = page.query.map(q => {
      const changed = change(q.value)
      if (q.key !== key || changed === q.value) return q
      const value = parseTemplate(changed)
        .map(s => (s.kind === 'literal' ? encodeURIComponent(s.text) : spell(dialect, s.token)))
        .join('')
      return { ...q, raw: `${encodeURIComponent(key)}=${value}` }
    })
  })
}

type Page = Pick<
  NonNullable<ReturnType<typeof parseDestination>>['destination'],
  'base' | 'query' | 'fragment'
>

/** The landing page mended, and otherwise as it was; parsing it mends what an address itself shows. */
function landing({ ad, profile }: FixContext, change: (page: Page) => void): LinkChange[] {
  const parsed = ad.landingPage && parseDestination(ad.landingPage, profile.dialect)
  if (!parsed) return []
  const page: Page = { ...parsed.destination }
  change(page)
  const write = (text: string) => parsed.restore(text, token => spell(profile.dialect, token) ?? '')
  const query = page.query.map(q => write(q.raw))
  const after = write(page.base) + (query.length > 0 ? `?${query.join('&')}` : '') + write(page.fragment)
  const { landingPage, straight } = ad
  return after === landingPage
    ? []
    : [
        {
          what: 'ad',
          network: ad.network,
          ad: ad.id,
          before: { landingPage, straight },
          after: { landingPage: after, straight },
        },
      ]
}

const asIs = () => undefined
const without = (key: string) => (page: Page) => {
  page.query = page.query.filter(q => q.key !== key)
}

/** Which token of this network says what another network's spelling says. */
function meant({ profile, otherProfiles }: FixContext, text: string): string | null {
  for (const other of otherProfiles)
    for (const [spelling, token] of spellings(other.dialect)) {
      if (!text.includes(spelling)) continue
      const sibling = token.endsWith('.name') ? token.replace('.name', '.id') : token
      if (spell(profile.dialect, token) !== null) return `{${token}}`
      if (spell(profile.dialect, sibling) !== null) return `{${sibling}}`
    }
  return null
}

const renameToken = (template: string, from: string, to: string) =>
  writeTemplate(
    parseTemplate(template).map(s => (s.kind === 'token' && s.token === from ? { ...s, token: to } : s)),
  )
const lowerCase = (template: string) =>
  writeTemplate(
    parseTemplate(template).map(s => (s.kind === 'literal' ? { ...s, text: s.text.toLowerCase() } : s)),
  )

/** Takes away a removal below a level that sets the parameter; null where nothing was removed. */
function inheritAgain(context: FixContext, key: string): LinkChange[] | null {
  const removing = planLevels.findLast(level => context.own[level][key] === '')
  const set = planLevels.some(level => context.own[level][key])
  return removing && set
    ? plan(context, removing, own => Object.fromEntries(Object.entries(own).filter(([k]) => k !== key)))
    : null
}

type Fixes = {
  [Code in LinkFinding['code']]?: (
    context: FixContext,
    finding: Extract<LinkFinding, { code: Code }>,
  ) => LinkChange[]
}

/** How each finding is mended where only one thing can be meant; for the others somebody has to decide. */
const fixes: Fixes = {
  second_question_mark: context => landing(context, asIs),
  parameters_after_fragment: context => landing(context, asIs),
  parameters_without_question_mark: context =>
    landing(context, page => {
      const at = /&(?=[A-Za-z0-9_.-]+=)/.exec(page.base)
      if (!at) return
      const moved = page.base.slice(at.index + 1).split('&')
      page.base = page.base.slice(0, at.index)
      page.query = [...moved.map(raw => ({ raw, key: '', value: '' })), ...page.query]
    }),
  password_in_address: context =>
    landing(context, page => {
      page.base = page.base.replace(/^(https?:\/\/)[^/]*@/i, '$1')
    }),
  duplicate_key: (context, { key }) => landing(context, without(key)),
  unknown_token: (context, finding) =>
    finding.instead === null
      ? []
      : rewrite(context, finding, template => renameToken(template, finding.token, finding.instead!)),
  foreign_dialect: (context, finding) => {
    const token = meant(context, finding.text)
    return token ? rewrite(context, finding, template => template.replaceAll(finding.text, token)) : []
  },
  misspelled_token: (context, { token, text, ...finding }) =>
    token ? rewrite(context, finding, template => template.replaceAll(text, `{${token}}`)) : [],
  id_where_name_exists: (context, finding) =>
    rewrite(context, finding, template => renameToken(template, finding.token, finding.name)),
  missing_source: (context, { key }) =>
    inheritAgain(context, key) ?? plan(context, 'account', own => ({ [key]: context.profile.id, ...own })),
  missing_campaign: (context, { key }) => {
    const token = ['campaign.name', 'campaign.id'].find(t => spell(context.profile.dialect, t) !== null)
    return (
      inheritAgain(context, key) ??
      (token ? plan(context, 'account', own => ({ ...own, [key]: `{${token}}` })) : [])
    )
  },
  mixed_case: (context, finding) => {
    if (finding.at.part !== 'parameter') return []
    const { key } = finding.at
    const level = context.link.origin[key]
    if (!level) return []
    return plan(context, level, own =>
      Object.fromEntries(
        Object.entries(own).map(([k, value]) =>
          k === key ? [k.toLowerCase(), lowerCase(value)] : [k, value],
        ),
      ),
    )
  },
  personal_data: (context, { at }) => {
    if (at.part !== 'parameter') return []
    const level = context.link.origin[at.key]
    return level
      ? plan(context, level, own => Object.fromEntries(Object.entries(own).filter(([key]) => key !== at.key)))
      : landing(context, without(at.key))
  },
}

/** The changes that mend a finding; none where it is not certain what is meant. */
export const fixOf = (context: FixContext, finding: LinkFinding): LinkChange[] =>
  (fixes[finding.code] as ((c: FixContext, f: LinkFinding) => LinkChange[]) | undefined)?.(
    context,
    finding,
  ) ?? []
