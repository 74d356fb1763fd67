import fc from 'fast-check'
import { expect, it } from 'vitest'
import { readLine, writeLine } from './journalLine'

it('reads back what was written, and nothing of what was cut or changed', () => {
  fc.assert(
    fc.property(fc.dictionary(fc.string(), fc.jsonValue()), fc.nat(), (record, at) => {
      const line = writeLine(record).trimEnd()
      expect(readLine(line)).toEqual({ value: JSON.parse(JSON.stringify(record)) })
      expect(line).not.toContain('\n')
      const cut = line.slice(0, at % line.length)
      expect(readLine(cut)).toEqual({ problem: 'torn_line' })
      const place = 9 + (at % (line.length - 9))
      const changed = `${line.slice(0, place)}${line[place] === '~' ? '!' : '~'}${line.slice(place + 1)}`
      expect(readLine(changed)).toEqual({ problem: 'torn_line' })
    }),
  )
})
