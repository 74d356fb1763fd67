import { describe, expect, it } from 'vitest'
import { adLink } from '@/core/links/adLink'
import type { LinkFinding } from '@/core/links/finding'
import { shippedProfiles } from '@/core/links/profiles'
import { findingWords } from './findingWords'
import { templateWords, tokenWords } from './linkWords'

const profile = (id: string) => shippedProfiles.find(p => p.id === id)!
const kelpie = profile('kelpie')

/** The findings of a link that has many slips at once. */
const findings = (network: string): LinkFinding[] =>
  adLink({
    landingPage: 'http://shop.example/kits&b=1?utm_source=x?c=2#top&d=3',
    straight: true,
    tracked: null,
    profile: profile(network),
    plan: {
      account: { utm_content: '{ad.name}', utm_medium: 'Paid-{ad_set.id}', x: '<post_id>', y: '[[ad_ref]]' },
      ad: { to: 'ines@tarnbrook.example', next: 'https://a.example/?b={keyword}', long: 'x'.repeat(2100) },
    },
    hosts: ['tarnbrook.example'],
    otherProfiles: shippedProfiles,
  }).findings

describe('findings in words', () => {
  it.each(shippedProfiles.map(p => p.id))('say something whole of every slip at %s', network => {
    const said = findings(network).map(f => findingWords(f, profile(network)))
    expect(said.length).toBeGreaterThan(8)
    for (const words of said) {
      expect(words).toMatch(/^\S.*[.]$/)
      expect(words).not.toMatch(/undefined|null|\{|\}|_set|\[object/)
    }
  })
  it('call levels as the network does', () => {
    expect(tokenWords('ad_set.name', kelpie)).toBe('ad group name')
    expect(tokenWords('ad.id', profile('mothwire'))).toBe('post ID')
    expect(tokenWords('sub.4', kelpie)).toBe('sub-ID 4')
    const said = findings('kelpie').map(f => findingWords(f, kelpie))
    expect(said).toContain('This network cannot supply “ad name”; use “ad ID” instead.')
    expect(said.join()).toContain('Set it at ad group level to avoid that.')
  })
  it('write a value with its tokens in words, never in braces', () => {
    expect(templateWords('looms-{ad_set.id}-%kw%', kelpie)).toBe('looms-‹ad group ID›-‹keyword›')
    const found = findings('kelpie').find(f => f.code === 'mixed_case')!
    expect(findingWords(found, kelpie)).toContain('“Paid-‹ad group ID›” has capitals')
  })
})
