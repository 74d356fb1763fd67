import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { assembleLink } from './assemble'
import {
  type NetworkTemplate,
  networkIdFor,
  networkTemplates,
  startProfile,
  usualStart,
} from './networkTemplates'
import { profileSchema, spellings } from './profile'

const names = Object.keys(networkTemplates) as NetworkTemplate[]

describe('a network that begins from a template', () => {
  it.each(names)('has a data sheet that can be kept and a link that is put together: %s', template => {
    const profile = startProfile({ ...usualStart, name: 'A network', template }, 'a-network')
    expect(profileSchema.parse(profile)).toEqual(profile)
    const plan = Object.fromEntries(spellings(profile.dialect).map(([, token]) => [token, `{${token}}`]))
    const link = assembleLink({
      profile,
      destination: 'https://tarnbrook.example/looms',
      plan: { account: plan },
      otherProfiles: [],
    })
    for (const [, token] of spellings(profile.dialect)) expect(link.address).toContain(`${token}=`)
    expect(link.findings.filter(f => f.severity === 'error')).toEqual([])
  })
  it('has an ID of its own, whatever its name is', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', minLength: 1, maxLength: 80 }),
        fc.array(fc.string()),
        (name, taken) => {
          const first = networkIdFor(name, taken)
          const second = networkIdFor(name, [...taken, first])
          for (const id of [first, second]) {
            expect(profileSchema.shape.id.safeParse(id).success).toBe(true)
            expect(taken).not.toContain(id)
          }
          expect(second).not.toBe(first)
        },
      ),
    )
  })
  it('is told from one of the same name', () => {
    expect(networkIdFor('Nördliche Anzeigen', [])).toBe('nordliche-anzeigen')
    expect(networkIdFor('広告', [])).toBe('network')
    expect(networkIdFor('Own', ['own', 'own-2'])).toBe('own-3')
  })
})
