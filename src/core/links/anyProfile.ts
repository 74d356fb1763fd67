import fc from 'fast-check'
import { type NetworkProfile, neutralTokens, planLevels, profileSchema } from './profile'
import { parseTemplate } from './template'

/** Any well-formed Unicode text. */
export const text = fc.string({ unit: 'binary', maxLength: 20 }).map(s => s.toWellFormed())
const delimiters = fc.constantFrom(
  { open: '[[', close: ']]' },
  { open: '%', close: '%' },
  { open: '<', close: '>' },
  { open: '~', close: '~' },
  { open: '${', close: '}' },
  { open: '#', close: '#' },
  { open: '((', close: '))' },
  { open: '@@', close: '' },
)
const inner = fc.stringMatching(/^[a-zA-Z][a-zA-Z0-9_.-]{0,12}$/)

/** Any profile that the schema takes. */
export const anyProfile: fc.Arbitrary<NetworkProfile> = fc
  .record({
    dialect: fc.record({
      delimiters,
      tokens: fc.dictionary(fc.constantFrom(...Object.keys(neutralTokens)), inner, { maxKeys: 8 }),
    }),
    queryField: fc.boolean(),
  })
  .map(({ dialect: { delimiters, tokens }, queryField }) =>
    profileSchema.safeParse({
      id: 'any',
      name: 'Any',
      dialect: { ...delimiters, tokens },
      ...(queryField
        ? {
            fields: [
              { id: 'a', holds: 'address' },
              { id: 'q', holds: 'query' },
            ],
          }
        : {}),
    }),
  )
  .filter(read => read.success)
  .map(read => read.data)

/** A value of literals and tokens that this network can supply. */
export const template = (profile: NetworkProfile) =>
  fc
    .array(fc.oneof(text, fc.constantFrom('', ...Object.keys(profile.dialect.tokens).map(t => `{${t}}`))), {
      maxLength: 4,
    })
    .map(parts => parts.join(''))
    // A brace expression that is no token of this network is dropped with a finding: another test's matter.
    .filter(t =>
      parseTemplate(t, profile.dialect).every(s => s.kind === 'literal' || s.token in profile.dialect.tokens),
    )

/** Parameters of any level whose values this network can supply. */
export const planFor = (profile: NetworkProfile) =>
  fc.dictionary(
    text.filter(k => k !== ''),
    fc.tuple(fc.constantFrom(...planLevels), template(profile)),
    { maxKeys: 5 },
  )
