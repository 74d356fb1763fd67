import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readParameterLines, writeParameterLines } from './parameterLines'

describe('parameters in lines', () => {
  it('are read as they were written', () => {
    const key = fc.stringMatching(/^[^=\s]{1,8}$/u).filter(k => k !== '__proto__')
    const value = fc.stringMatching(/^[^\s](.*[^\s])?$/u).filter(v => !/[\r\n\u2028\u2029]/.test(v))
    fc.assert(
      fc.property(fc.dictionary(key, value), parameters => {
        expect(readParameterLines(writeParameterLines(parameters))).toEqual({ parameters, problems: [] })
      }),
    )
  })
  it('that say nothing are said, with their line, and none is lost unsaid', () => {
    const text = 'utm_source=newsletter\n\n  utm_campaign October\n=x\nutm_term=\nutm_source=other\nq=a=b'
    expect(readParameterLines(text)).toEqual({
      parameters: { utm_source: 'newsletter', q: 'a=b' },
      problems: [
        { code: 'no_parameter', line: 3, text: 'utm_campaign October' },
        { code: 'no_parameter', line: 4, text: '=x' },
        { code: 'key_twice', line: 6, text: 'utm_source=other' },
      ],
    })
  })
})
