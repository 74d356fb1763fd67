import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyProfile, planFor } from './anyProfile'
import { assembleLink } from './assemble'
import { profileSchema } from './profile'
import { shippedProfiles } from './profiles'
import { pasteDoubts, takeApart } from './takeApart'
import { writeTemplate } from './template'

describe('taking an address apart', () => {
  it('gives the plan that assembled it, for any profile and any text', () => {
    fc.assert(
      fc.property(
        fc
          .oneof(fc.constantFrom(...shippedProfiles), anyProfile)
          .chain(profile => fc.tuple(fc.constant(profile), planFor(profile))),
        fc.webUrl({ withQueryParameters: true }),
        ([profile, parameters], destination) => {
          const plan: Record<string, Record<string, string>> = {}
          for (const [key, [level, value]] of Object.entries(parameters))
            plan[level] = { ...plan[level], [key]: value }
          const made = assembleLink({ profile, destination, plan })
          const planKeys = new Set(made.parameters.map(p => p.key))
          const expected = made.parameters.map(p => [p.key, writeTemplate(p.segments)])
          const whole = takeApart(made.address, { profiles: [profile], planKeys })
          expect(whole?.parameters.filter(p => planKeys.has(p.key)).map(p => [p.key, p.template])).toEqual(
            expected,
          )
          const bare = profile.fields.find(f => f.holds === 'query')
          const query = bare && made.fields[bare.id]
          if (query)
            expect(
              takeApart(`https://x.example/?${query}`, { profiles: [profile], planKeys })?.parameters.map(
                p => [p.key, p.template],
              ),
            ).toEqual(expected)
        },
      ),
    )
  })
  it('takes none of what we add ourselves for the page’s or the plan’s', () => {
    const taken = takeApart('https://shop.example/kits?a=1&aq_test=t1&aq_click=c1&aq_code=no1&utm_source=x', {
      profiles: shippedProfiles,
    })!
    expect(taken.destination).toBe('https://shop.example/kits?a=1')
    expect(taken.parameters.filter(p => p.belongs === 'click_id').map(p => p.key)).toEqual([
      'aq_test',
      'aq_click',
      'aq_code',
    ])
  })
  it('gives an address that assembles to itself', () => {
    fc.assert(
      fc.property(
        anyProfile.chain(profile => fc.tuple(fc.constant(profile), planFor(profile))),
        ([profile, parameters]) => {
          const account = Object.fromEntries(
            Object.entries(parameters).map(([key, [, value]]) => [key, value]),
          )
          const { address } = assembleLink({
            profile,
            destination: 'https://tarnbrook.example/kits?lang=pt#looms',
            plan: { account },
          })
          const taken = takeApart(address, { profiles: [profile], planKeys: new Set(Object.keys(account)) })!
          const again = Object.fromEntries(
            taken.parameters.filter(p => p.belongs === 'plan').map(p => [p.key, p.template]),
          )
          const held = taken.parameters.filter(p => p.belongs === 'click_id')
          expect(held).toEqual([])
          expect(
            assembleLink({ profile, destination: taken.destination, plan: { account: again } }).address,
          ).toBe(address)
        },
      ),
    )
  })
  it('tells the network by its spellings, its click ID or its source', () => {
    const by = (address: string, preferred?: string) =>
      takeApart(address, { profiles: shippedProfiles, ...(preferred ? { preferred } : {}) })?.profile
    expect(by('https://tarnbrook.example/?utm_content=%kw%')).toBe('kelpie')
    expect(by('https://tarnbrook.example/?utm_content=%5B%5Bad_title%5D%5D')).toBe('norrfeed')
    expect(by('https://tarnbrook.example/?mwclick=a1')).toBe('mothwire')
    expect(by('https://tarnbrook.example/?utm_source=Guildpost')).toBe('guildpost')
    expect(by('https://tarnbrook.example/', 'whyfold')).toBe('whyfold')
  })
  it('reads what copying left of an address', () => {
    const messy =
      '  "tarnbrook.example/kits?lang=pt&amp;utm_source=norrfeed\n   &amp;utm_campaign=[[campaign_title]]?utm_content=ad-[[ad_ref]]&nfref=91ab#looms"  '
    const taken = takeApart(messy, { profiles: shippedProfiles })!
    expect(taken.destination).toBe('https://tarnbrook.example/kits?lang=pt#looms')
    expect(taken.parameters).toEqual([
      { key: 'lang', template: 'pt', belongs: 'page' },
      { key: 'utm_source', template: 'norrfeed', belongs: 'plan' },
      { key: 'utm_campaign', template: '{campaign.name}', belongs: 'plan' },
      { key: 'utm_content', template: 'ad-{ad.id}', belongs: 'plan' },
      { key: 'nfref', template: '91ab', belongs: 'click_id' },
    ])
    expect(taken.repairs).toEqual([
      'line_breaks',
      'quotes',
      'html_ampersands',
      'scheme_added',
      'second_question_mark',
    ])
  })
  it('takes parameters alone, and sub-IDs from the query or the path', () => {
    const alone = takeApart('utm_source=norrfeed&utm_content=[[ad_title]]', { profiles: shippedProfiles })!
    expect(alone).toMatchObject({ destination: '', profile: 'norrfeed', recognised: 1 })
    const corvane = shippedProfiles.find(p => p.id === 'corvane')!
    const taken = takeApart('https://corvane.example/o?p1=a&p2=#p2#&z=1', { profiles: [corvane] })!
    expect(taken.parameters.map(p => p.belongs)).toEqual(['sub_id', 'sub_id', 'page'])
    const inPath = profileSchema.parse({ ...corvane, sub_ids: { limit: 2, in: 'path', names: [] } })
    expect(takeApart('https://corvane.example/o/#p1#/x%2Fy?z=1', { profiles: [inPath] })).toMatchObject({
      destination: 'https://corvane.example/o?z=1',
      parameters: [{ template: '{sub.1}' }, { template: 'x/y' }, { key: 'z' }],
    })
  })
  it('refuses what is no web address', () => {
    for (const text of [
      '',
      'javascript:alert(1)',
      'tarnbrook kits',
      'mailto:ines@tarnbrook.example',
      'data:text/html,<b>',
    ])
      expect(takeApart(text, { profiles: shippedProfiles })).toBeNull()
  })
})

describe('what is doubtful in a pasted address', () => {
  const at = (profile: string, query: string) => {
    const [own] = shippedProfiles.filter(p => p.id === profile)
    const taken = takeApart(`https://tarnbrook.example/?${query}`, { profiles: [own!] })!
    return pasteDoubts(taken, shippedProfiles)
  }
  const [kelpie] = shippedProfiles.filter(p => p.id === 'kelpie')
  const spelled = kelpie!.dialect.open + kelpie!.dialect.tokens['ad.id'] + kelpie!.dialect.close

  it('is a token of another network, and what stood twice', () => {
    expect(at('norrfeed', `utm_content=${encodeURIComponent(spelled)}&utm_term=plain`).foreign).toEqual([
      { key: 'utm_content', text: spelled, profile: 'kelpie' },
    ])
    expect(at('norrfeed', 'utm_term=a&x=1&utm_term=b&utm_term=c').twice).toEqual([
      { key: 'utm_term', kept: 'c', dropped: ['a', 'b'] },
    ])
  })
  it('is nothing in an address that is written for its network alone', () => {
    expect(at('kelpie', `utm_content=${encodeURIComponent(spelled)}&utm_term=b`)).toEqual({
      foreign: [],
      twice: [],
    })
  })
})
