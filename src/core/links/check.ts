import { severityRank } from '../shared/finding'
import type { Destination } from './destination'
import type { LinkFinding, LinkPlace } from './finding'
import type { LinkInput, LinkParameter } from './linkInput'
import { isOrdinary, misspelledToken, nearestToken, standIn, tokenShape } from './misspelled'
import { emptyOnTest, isNeutralToken, type NetworkProfile, spell, spellings } from './profile'
import { reviewAt } from './review'
import { parseTemplate } from './template'

interface Assembly extends Omit<LinkInput, 'destination'> {
  destination: Destination
  destinationTokens: string[]
  parameters: LinkParameter[]
  written: string
  preview: string
  restore: (text: string, write: (token: string) => string) => string
}

const SOURCE_KEY = 'utm_source'
const CAMPAIGN_KEY = 'utm_campaign'
const EMAIL = /[A-Za-z0-9._%+-]+@[A-Za-z0-9-]+(\.[A-Za-z0-9-]+)*\.[A-Za-z]{2,}/
/** A leading + or 00, or digits grouped as people write them; bare digits are an ID far more often. */
const PHONE = /(?:^|[^\w])(?:\+|00)\d[\d ().-]{6,17}\d(?!\w)|^\(?\d{2,4}\)?[ .-]\d{3}[ .-]\d{3,4}$/

/** The findings of one assembled link, gravest first. */
export function checkLink(link: Assembly): LinkFinding[] {
  const findings: LinkFinding[] = [
    ...destinationFindings(link),
    ...link.parameters.flatMap(p => parameterFindings(link, p)),
    ...subIdFindings(link),
    ...wholeFindings(link),
  ]
  return findings.sort((a, b) => severityRank[a.severity] - severityRank[b.severity])
}

function destinationFindings({
  destination,
  parameters,
  destinationTokens,
  profile,
  restore,
  ...link
}: Assembly) {
  const at: LinkPlace = { part: 'destination' }
  const findings: LinkFinding[] = destination.repairs.map(code => ({ code, severity: 'warning', at }))
  if (/&[A-Za-z0-9_.-]+=/.test(destination.base))
    findings.push({ code: 'parameters_without_question_mark', severity: 'warning', at })
  if (/^https?:\/\/[^/]*:[^/]*@/i.test(destination.base))
    findings.push({ code: 'password_in_address', severity: 'error', at })
  if (destination.protocol !== 'https:' && !isLoopback(destination.host))
    findings.push({ code: 'not_https', severity: 'warning', at })
  const hosts = link.hosts ?? []
  if (hosts.length > 0 && !hosts.some(h => h.toLowerCase() === destination.host))
    findings.push({ code: 'host_not_listed', severity: 'error', at, host: destination.host })
  for (const token of destinationTokens) findings.push(...tokenFindings(token, profile, at))
  const marks = (text: string) => restore(text, token => spell(profile.dialect, token) ?? '')
  for (const q of destination.query) {
    const place: LinkPlace = { part: 'parameter', key: marks(q.key) }
    const planned = parameters.find(p => p.key === place.key)
    if (planned)
      findings.push({
        code: 'duplicate_key',
        severity: 'warning',
        at: place,
        key: place.key,
        kept: planned.written,
        dropped: marks(q.value),
      })
    findings.push(...valueFindings(restore(q.value, standIn), place, link.otherProfiles ?? [], profile))
    if (/^https?:/i.test(q.value))
      restore(q.value, token => {
        findings.push({ code: 'token_in_nested_address', severity: 'warning', at: place, token })
        return ''
      })
  }
  const path = restore(destination.base, standIn)
  return [...findings, ...tokenSlips(path, at, link.otherProfiles ?? [], profile)]
}

function parameterFindings(
  { profile, otherProfiles = [], parameters }: Assembly,
  p: LinkParameter,
): LinkFinding[] {
  const at: LinkPlace = { part: 'parameter', key: p.key, level: p.origin }
  const findings: LinkFinding[] = []
  const tokens = p.segments.flatMap(s => (s.kind === 'token' ? [s.token] : []))
  for (const token of tokens) {
    findings.push(...tokenFindings(token, profile, at))
    const name = token.replace(/\.id$/, '.name')
    const nameIsUsed = parameters.some(other =>
      other.segments.some(s => s.kind === 'token' && s.token === name),
    )
    if (
      name !== token &&
      spell(profile.dialect, token) !== null &&
      spell(profile.dialect, name) !== null &&
      !nameIsUsed
    )
      findings.push({ code: 'id_where_name_exists', severity: 'hint', at, token, name })
  }
  const literal = p.segments.map(s => (s.kind === 'literal' ? s.text : standIn(s.token))).join('')
  if (/^https?:\/\//i.test(literal))
    for (const token of tokens)
      findings.push({ code: 'token_in_nested_address', severity: 'warning', at, token })
  findings.push(...valueFindings(literal, at, otherProfiles, profile))
  if (/^utm_/i.test(p.key) && (/[A-Z]/.test(p.key) || /\p{Lu}/u.test(literal)))
    findings.push({
      code: 'mixed_case',
      severity: 'hint',
      at,
      value: /[A-Z]/.test(p.key) ? p.key : p.template,
    })
  return findings
}

/** Names of this machine, which the Secure Contexts standard trusts without https. */
const isLoopback = (host: string) => /(^|\.)localhost$|^127\.|^\[::1\]$/.test(host)

/** The first of the network's own tokens that could serve where this one cannot. */
function substitute(token: string, profile: NetworkProfile): string | null {
  const sibling = token.endsWith('.name') ? token.replace(/\.name$/, '.id') : token.replace(/\.id$/, '.name')
  if (sibling !== token && spell(profile.dialect, sibling) !== null) return sibling
  return isNeutralToken(token) ? null : nearestToken(token, profile)
}

function tokenFindings(token: string, profile: NetworkProfile, at: LinkPlace): LinkFinding[] {
  if (!isNeutralToken(token) || spell(profile.dialect, token) === null)
    return [{ code: 'unknown_token', severity: 'error', at, token, instead: substitute(token, profile) }]
  return emptyOnTest.has(token) ? [{ code: 'empty_on_test', severity: 'hint', at, token }] : []
}

/** Text that was meant as a token and is none here. */
function tokenSlips(
  text: string,
  at: LinkPlace,
  others: readonly NetworkProfile[],
  own: NetworkProfile,
): LinkFinding[] {
  const foreign = foreignToken(text, others, own)
  if (foreign) return [{ code: 'foreign_dialect', severity: 'error', at, ...foreign }]
  const slip = misspelledToken(text, own)
  return slip ? [{ code: 'misspelled_token', severity: 'error', at, ...slip }] : []
}

function valueFindings(
  text: string,
  at: LinkPlace,
  others: readonly NetworkProfile[],
  own: NetworkProfile,
): LinkFinding[] {
  const findings = tokenSlips(text, at, others, own)
  if (EMAIL.test(text)) findings.push({ code: 'personal_data', severity: 'error', at, kind: 'email' })
  else if (PHONE.test(text)) findings.push({ code: 'personal_data', severity: 'error', at, kind: 'phone' })
  return findings
}

/**
 * Text that another profile would read as its token: one of its spellings, or, where its delimiters
 * cannot be ordinary text, anything of that shape.
 */
export function foreignToken(
  text: string,
  others: readonly NetworkProfile[],
  own: NetworkProfile,
): { text: string; profile: string } | null {
  for (const other of others) {
    const { open, close } = other.dialect
    if (other.id === own.id || !open || (open === own.dialect.open && close === own.dialect.close)) continue
    const known = spellings(other.dialect).find(([spelling]) => text.includes(spelling))?.[0]
    const found = known ?? (isOrdinary(open) ? undefined : text.match(tokenShape(other.dialect))?.[0])
    if (found) return { text: found, profile: other.id }
  }
  return null
}

function subIdFindings({ profile, subIds = [] }: Assembly): LinkFinding[] {
  const limit = profile.sub_ids?.limit ?? 0
  const findings: LinkFinding[] = subIds
    .slice(0, limit)
    .flatMap((template, index) =>
      parseTemplate(template, profile.dialect).flatMap(s =>
        s.kind === 'token' ? tokenFindings(s.token, profile, { part: 'sub_id', index }) : [],
      ),
    )
  if (subIds.length > limit)
    findings.push({
      code: 'too_many_sub_ids',
      severity: 'error',
      at: { part: 'sub_id', index: limit },
      limit,
      given: subIds.length,
    })
  return findings
}

function wholeFindings({
  destination,
  parameters,
  plan,
  profile,
  written,
  preview,
}: Assembly): LinkFinding[] {
  const at: LinkPlace = { part: 'address' }
  const findings: LinkFinding[] = []
  const keys = new Set(
    [...parameters.map(p => p.key), ...destination.query.map(q => q.key)].map(k => k.toLowerCase()),
  )
  if (!keys.has(SOURCE_KEY))
    findings.push({ code: 'missing_source', severity: 'warning', at, key: SOURCE_KEY })
  if (!keys.has(CAMPAIGN_KEY))
    findings.push({ code: 'missing_campaign', severity: 'warning', at, key: CAMPAIGN_KEY })
  const length = Math.max(written.length, preview.length)
  if (length > profile.max_length)
    findings.push({ code: 'too_long', severity: 'error', at, length, limit: profile.max_length })
  for (const level of profile.review_levels) {
    const review = reviewAt(level, [profile])
    if (!review || Object.keys(plan[level] ?? {}).length === 0) continue
    const { instead } = review
    findings.push({
      code: 'edit_causes_review',
      severity: 'hint',
      at: { part: 'level', level },
      level,
      instead,
    })
  }
  return findings
}
