import type { LinkFinding } from '@/core/links/finding'
import type { NetworkProfile, PlanLevel } from '@/core/links/profile'
import { levelName, templateWords, tokenWords } from './linkWords'

type Words = {
  [Code in LinkFinding['code']]: (
    finding: Extract<LinkFinding, { code: Code }>,
    token: (token: string) => string,
    level: (level: PlanLevel) => string,
    value: (template: string) => string,
  ) => string
}

/** Findings about links in plain words: what it is, and what to do. */
const words: Words = {
  not_an_address: f =>
    `${f.text ? `“${f.text}” is no web address` : 'The ad has no landing page yet'}. Set one that begins with https://.`,
  second_question_mark: () => 'The address had two question marks; the second is now an ampersand.',
  parameters_after_fragment: () =>
    'Parameters stood after the #, where no server sees them; they now stand before it.',
  parameters_without_question_mark: () =>
    'Parameters stand in the path without a question mark before them. Put ? in front of the first.',
  duplicate_key: f =>
    `“${f.key}” stands in the landing page too; the plan’s value “${f.kept}” wins over “${f.dropped}”.`,
  unknown_token: (f, token) =>
    `This network cannot supply “${token(f.token)}”${f.instead ? `; use “${token(f.instead)}” instead` : '; write fixed text instead'}.`,
  foreign_dialect: f =>
    `“${f.text}” is how ${f.profile} writes a value; this network would pass it on unread. Pick the token instead.`,
  misspelled_token: (f, token) =>
    `“${f.text}” looks like a token and is none; it would be passed on as it stands.${f.token ? ` Probably “${token(f.token)}” is meant.` : ' Pick the token instead.'}`,
  empty_on_test: (f, token) =>
    `“${token(f.token)}” is empty when you click the ad to try it; only a real click fills it.`,
  id_where_name_exists: (f, token) =>
    `“${token(f.token)}” is a number; “${token(f.name)}” would be readable.`,
  token_in_nested_address: (f, token) =>
    `“${token(f.token)}” stands in an address within the address: the network must encode it twice.`,
  too_many_sub_ids: f => `${f.given} sub-IDs are given; this network takes ${f.limit}.`,
  password_in_address: () =>
    'A password stands in the address, where everybody who clicks can read it. Take it out, and change it.',
  not_https: () => 'The landing page is not https; some networks refuse it and browsers warn of it.',
  host_not_listed: f => `${f.host} is not among your hosts. Check the address for a slip.`,
  too_long: f => `The address has ${f.length} characters; this network takes ${f.limit}.`,
  missing_source: f => `Nothing names the network. Set ${f.key}.`,
  missing_campaign: f => `Nothing names the campaign. Set ${f.key}.`,
  mixed_case: (f, _, __, value) =>
    `“${value(f.value)}” has capitals; reports would list it apart from its lower-case twin.`,
  personal_data: f =>
    `A value looks like ${f.kind === 'email' ? 'an e-mail address' : 'a phone number'}. Personal data must not travel in addresses.`,
  edit_causes_review: (f, _, level) =>
    `A change at ${level(f.level)} level sends the ad to review and resets its figures.${f.instead ? ` Set it at ${level(f.instead)} level to avoid that.` : ''}`,
  default_name: f => `“${f.name}” is a default name; nobody will know it in a report.`,
  name_changed: (f, _, level) =>
    `${f.at.part === 'name' ? `The ${level(f.at.level)}` : 'It'} was renamed: ${f.names.join(' → ')}. Reports by name split at the change.`,
  duplicate_name: f => `${f.ids.length} have the name “${f.name}”; a report by name adds them up.`,
  reserved_character_in_name: f =>
    `“${f.name}” has ${[...f.characters].join(' ')} in it, with a meaning of its own in an address. It is encoded here; check that the network does so too.`,
}

export const findingWords = (finding: LinkFinding, profile: NetworkProfile): string =>
  (words[finding.code] as (f: LinkFinding, ...say: ((what: never) => string)[]) => string)(
    finding,
    (token: string) => tokenWords(token, profile),
    (level: PlanLevel) => levelName(profile, level),
    (template: string) => templateWords(template, profile),
  )
