import type { AddressConditions, Comparison } from '@/core/signals/addressMatcher'
import type { PageFindingCode } from '@/core/signals/pageCheck'
import type { Rule, RuleFinding } from '@/core/signals/rule'

type When = Rule['when']

export const triggerWords: Record<When['on'], string> = {
  page: 'a page is opened',
  link_click: 'a link is clicked',
  element_click: 'something is clicked',
  form_sent: 'a form is sent',
  element_seen: 'something comes into view',
  scroll: 'the page is scrolled down to',
  video: 'a video was played to',
  engaged: 'the page was looked at for',
  own_event: 'the page tells its own event',
}

/** When a rule tells, in words. */
export function whenWords(when: When): string {
  const words = triggerWords[when.on]
  switch (when.on) {
    case 'element_click':
    case 'element_seen':
      return `${words}: ${when.selector}`
    case 'form_sent':
      return when.selector ? `${words}: ${when.selector}` : words
    case 'scroll':
    case 'video':
      return `${words} ${when.share} %`
    case 'engaged':
      return `${words} ${when.seconds} s`
    case 'own_event':
      return `${words} ${when.name}`
    default:
      return words
  }
}

export const comparisonWords: Record<Comparison, string> = {
  equals: 'is',
  starts_with: 'begins with',
  contains: 'contains',
  pattern: 'fits the pattern',
}

/** Which addresses are meant, in words. */
export function whereWords({ any, none }: AddressConditions): string {
  const list = (all: AddressConditions['any']) =>
    all.map(c => `${comparisonWords[c.by]} ${c.text}`).join(' or ')
  const meant = any.length > 0 ? `pages whose address ${list(any)}` : 'all pages'
  return none.length > 0 ? `${meant}, but not where it ${list(none)}` : meant
}

export function ruleFindingWords(finding: RuleFinding): string {
  switch (finding.code) {
    case 'matches_every_page':
      return finding.text
        ? `“${finding.text}” is how every page begins: each visit would become a result. Say the page by “is”.`
        : 'It says no page: each visit would become a result. Add the address of the page that counts.'
    case 'bad_pattern':
      return finding.problem === 'not_a_pattern'
        ? `“${finding.text}” is no pattern: a bracket or backslash too many or too few, or a look-around or back reference, which patterns here do not know.`
        : `“${finding.text}” repeats something that repeats itself: a long address could keep a browser busy for minutes. Take one of the two away.`
    case 'matches_nothing_seen':
      return finding.of === 'links'
        ? `This rule matches none of the ${finding.seen} link addresses you typed.`
        : `This rule matches none of the ${finding.seen} pages seen in the last week. That is right only for a new page.`
    case 'excludes_itself':
      return 'What it means it leaves out again: it would never tell anything.'
  }
}

/** What became of something that the server told. */
export const relayWords = {
  waiting: 'waiting',
  taken: 'taken',
  refused: 'refused',
  no_click: 'not sent: no click of its own',
  held_back: 'held back: no place for a test mark',
  unconfirmed: 'waiting for the shop to send this order',
} as const

/** What a finding of the page check means and what to change. */
export const pageFindingWords: Record<PageFindingCode, string> = {
  base_missing: 'The base code is not on this page. Place it in the head of every page.',
  base_twice: 'The base code is there a second time: every page view counts double. Remove one.',
  base_not_in_head:
    'The base code stands in the body, so a page left early is not heard of. Move it into the head.',
  event_before_base: 'The event comes before the base code, which does not know it yet. Move it below.',
  event_missing: 'The event belongs on this page and is not there.',
  event_wrong_page: 'The event stands on a page where nothing has come about. Remove it here.',
  event_twice: 'The event is told a second time. Remove one.',
  extra_page_view:
    'The event carries the base call along, which doubles the page view. Leave the event alone in its place.',
  wrong_account: 'It names another account: what is heard goes to somebody else.',
  insecure_tag: 'It is fetched without encryption, which browsers refuse on a secure page. Write https.',
  script_error: 'The browser cannot read this code, so nothing of it is done. Mend the slip.',
  blocked: 'The request did not get through.',
  late: 'It was sent only after the page was left, and may be lost.',
  value_missing: 'The event does not say a value.',
  currency_missing: 'The event does not say the currency.',
  transaction_missing: 'The event does not say the order: reloads count again.',
}
