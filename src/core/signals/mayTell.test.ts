import { describe, expect, it } from 'vitest'
import { type BrowserWord, misfitOf } from './mayTell'
import { ruleSchema } from './rule'

const thanks = ruleSchema.parse({
  id: 'thanks',
  result: 'booklet',
  when: { on: 'page' },
  where: { any: [{ by: 'equals', text: '/thanks?of=booklet' }] },
})
const call = ruleSchema.parse({
  id: 'call',
  result: 'call',
  when: { on: 'link_click' },
  where: { any: [{ by: 'starts_with', text: 'tel:' }] },
})
const hosts = ['tarnbrook.example', 'localhost:4620']
const word = (more: Partial<BrowserWord> = {}): BrowserWord => ({
  rule: 'thanks',
  name: 'booklet',
  page: 'https://tarnbrook.example/thanks?of=booklet',
  visitor: 'v1',
  ...more,
})
const misfit = (more?: Partial<BrowserWord>, on: readonly string[] = hosts) =>
  misfitOf(word(more), [thanks, call], on)

describe('what a browser says of a result', () => {
  it('holds where its rule is one of the site, tells that result and means that page', () => {
    expect(misfit()).toBeNull()
    expect(misfit({ rule: 'nobody-wrote-it' })).toBe('no_such_rule')
    expect(misfit({ name: 'order' })).toBe('other_result')
    expect(misfit({ page: 'https://elsewhere.example/thanks?of=booklet' })).toBe('other_host')
    expect(misfit({ page: 'https://tarnbrook.example/kits' })).toBe('other_page')
    expect(misfit({ page: null })).toBe('other_host')
    expect(misfit({ page: null }, [])).toBe('other_page')
  })
  it('may come from any host where none is named, and from one with a port', () => {
    expect(misfit({ page: 'https://elsewhere.example/thanks?of=booklet' }, [])).toBeNull()
    expect(misfit({ page: 'http://localhost:4620/thanks?of=booklet' })).toBeNull()
  })
  it('is not held against what the tag leaves out: the query without consent, the end of a long address', () => {
    expect(misfit({ page: 'https://tarnbrook.example/thanks', visitor: null })).toBeNull()
    expect(misfit({ page: `https://tarnbrook.example/thanks?x=${'x'.repeat(2000)}` })).toBeNull()
  })
  it('is held against the page’s host alone where the rule speaks of a link', () => {
    const page = 'https://tarnbrook.example/contact'
    expect(misfit({ rule: 'call', name: 'call', page })).toBeNull()
    expect(misfit({ rule: 'call', name: 'call', page: 'https://elsewhere.example/' })).toBe('other_host')
  })
})
