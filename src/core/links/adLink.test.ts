import { describe, expect, it } from 'vitest'
import { adLink, subIdNames } from './adLink'
import { shippedProfiles } from './profiles'

const profile = (id: string) => shippedProfiles.find(p => p.id === id)!
const tracked = 'https://go.tarnbrook.example/c/no1'
const norrfeed = {
  profile: profile('norrfeed'),
  plan: { account: { utm_source: 'norrfeed', utm_campaign: '{campaign.name}' } },
  landingPage: 'https://tarnbrook.example/kits',
  straight: false,
  tracked,
  hosts: ['tarnbrook.example'],
  otherProfiles: shippedProfiles,
}
const parameters = 'utm_source=norrfeed&utm_campaign=[[campaign_title]]'

describe('an ad’s link', () => {
  it.each([
    ['by way of the tracking domain', {}, `${tracked}?${parameters}`],
    [
      'straight, with the code for the tag',
      { straight: true },
      `https://tarnbrook.example/kits?${parameters}&aq_code=no1`,
    ],
    ['where nothing tracks it', { tracked: null }, `https://tarnbrook.example/kits?${parameters}`],
  ])('leads %s', (_, more, address) => {
    expect(adLink({ ...norrfeed, ...more })).toMatchObject({ address, findings: [] })
  })
  it('is checked where the shopper lands, whichever way leads there', () => {
    const landed = { ...norrfeed, landingPage: 'http://elsewhere.example/kits?a=1?b=2' }
    const found = ['host_not_listed', 'second_question_mark', 'not_https']
    for (const straight of [true, false])
      expect(adLink({ ...landed, straight }).findings.map(f => f.code)).toEqual(found)
    expect(adLink({ ...norrfeed, landingPage: null }).findings.map(f => f.code)).toEqual(['not_an_address'])
  })
  it('may be too long on either way, and is said to be so once', () => {
    const long = (n: number) => ({
      ...norrfeed,
      plan: { account: { ...norrfeed.plan.account, x: 'x'.repeat(n) } },
    })
    const codes = (input: typeof norrfeed) => adLink(input).findings.map(f => f.code)
    expect(codes(long(3000))).toEqual(['too_long'])
    expect(codes({ ...long(1900), tracked: `${tracked}${'y'.repeat(100)}` })).toEqual(['too_long'])
    expect(codes(long(1900))).toEqual([])
  })
  it('carries the plan’s sub-IDs in their order, with gaps, and not as parameters', () => {
    const corvane = {
      ...profile('corvane'),
      sub_ids: { limit: 3, in: 'query' as const, names: ['p1', 'p2'] },
    }
    expect(subIdNames(corvane)).toEqual(['p1', 'p2', 'sub3'])
    expect(subIdNames(profile('norrfeed'))).toEqual([])
    const made = (account: Record<string, string>, ad = {}) =>
      adLink({ ...norrfeed, profile: corvane, straight: true, tracked: null, plan: { account, ad } }).address
    expect(made({ sub3: 'c', a: '1', p1: 'x' })).toBe('https://tarnbrook.example/kits?a=1&p1=x&p2=&sub3=c')
    expect(made({ p1: 'x', p2: 'y' }, { p2: '' })).toBe('https://tarnbrook.example/kits?p1=x')
    expect(made({ a: '1' })).toBe('https://tarnbrook.example/kits?a=1')
  })
})
