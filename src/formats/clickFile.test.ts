import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { gatherClicks } from '@/core/intake/clicks'
import { readClicks, readStretch, stretchesOf } from './clickFile'

const path = join(mkdtempSync(join(tmpdir(), 'aequant-clicks-')), 'clicks.csv')
const HEADER = 'click_id,clicked_at,network,campaign_id,ad_id,visitor_id,note'

describe('a file of clicks that is read in stretches', () => {
  const cell = fc.constantFrom('', 'c1', 'Weberei Süd', '機織り', '🧶', ' padded ')
  const row = fc
    .record({ id: fc.nat(20), at: fc.nat(23), ad: fc.nat(3), visitor: fc.nat(4), note: cell, bad: fc.nat(9) })
    .map(({ id, at, ad, visitor, note, bad }) => {
      if (bad === 0) return 'too,few'
      const instant = bad === 1 ? 'yesterday' : `2026-10-05T${String(at).padStart(2, '0')}:00:00Z`
      return bad === 2 ? '' : `k${id},${instant},norrfeed,c1,a${ad},v${visitor},${note}`
    })
  const all = new Set(Array.from({ length: 21 }, (_, i) => `k${i}`))
  const named = { clickIds: all, networkClickIds: new Set<string>(), visitors: new Set<string>() }

  it('has the same clicks, and rejects with the same lines, as when it is read at once', () => {
    fc.assert(
      fc.property(
        fc.array(row, { minLength: 1, maxLength: 30 }),
        fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 1, maxLength: 4 }),
        fc.constantFrom('', '\n'),
        fc.constantFrom('', '\uFEFF'),
        (rows, shares, end, mark) => {
          const text = `${mark}${HEADER}\n${rows.join('\n')}${end}`
          writeFileSync(path, text)
          const whole = readClicks(text)
          const stretches = stretchesOf(path, shares)
          // A header alone is read at once.
          if (`${rows.join('\n')}${end}` === '') expect(stretches).toBeNull()
          const parts = (stretches ?? []).map(stretch => readStretch(stretch)!)
          const together = gatherClicks()
          for (const { gathered } of parts) together.take(gathered.part(named, new Set()))
          expect(together.columns()).toEqual(whole.gathered.columns())
          expect(parts.reduce((sum, { read }) => sum + read, 0)).toBe(whole.read)
          let before = 1
          const rejected = parts.flatMap(part => {
            const own = part.rejected.map(reject => ({ ...reject, line: reject.line + before }))
            before += part.lines
            return own
          })
          expect(rejected).toEqual(whole.rejected)
        },
      ),
    )
  })
  it('is not parted where a line may be no row', () => {
    const good = 'k1,2026-10-05T10:00:00Z,norrfeed,c1,a1,v1,'
    const isRead = (text: string) => {
      writeFileSync(path, text)
      return stretchesOf(path, [1, 1])?.every(stretch => readStretch(stretch) !== null) ?? false
    }
    expect(isRead(`${HEADER}\n${good}x\n${good}y\n`)).toBe(true)
    expect(isRead(`${HEADER}\n${good}x\n${good}"a\nb"\n`)).toBe(false)
    expect(isRead(`${HEADER}\r\n${good}x\r\n${good}y\r\n`)).toBe(false)
    expect(isRead(`${HEADER}\r${good}x\r${good}y`)).toBe(false)
    expect(isRead(HEADER)).toBe(false)
    expect(isRead('')).toBe(false)
  })
})
