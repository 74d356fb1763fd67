import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { NamedClicks } from '@/core/intake/clicks'
import { foundIn, readClicks, readClickText, readStretch, stretchesOf } from './clickFile'

const path = join(mkdtempSync(join(tmpdir(), 'aequant-clicks-')), 'clicks.csv')
const HEADER = 'click_id,clicked_at,network,campaign_id,ad_id,visitor_id,network_click_id,device,note'
const write = (text: string) => writeFileSync(path, text)

describe('a file of clicks, read as bytes', () => {
  const cell = fc.constantFrom(
    '',
    'c1',
    'Weberei Süd',
    '機織り',
    '🧶',
    ' padded ',
    "'=x",
    '"quoted, with a comma"',
    '" "',
  )
  const id = fc.constantFrom('k1', 'k2', 'k3', 'k4', 'k5', '', 'clé', "'-k7", '"k2"', ' k1', 'k'.repeat(201))
  const visitor = fc.constantFrom('v1', 'v2', 'v3', 'vé', '', 'v'.repeat(300))
  const instant = fc.constantFrom(
    '2026-10-05T10:00:00Z',
    '2026-10-05T09:59:59.250Z',
    '2026-10-05T12:00:00+02:00',
    '2026-02-30T10:00:00Z',
    '2026-10-05T24:00:00Z',
    '2026-10-05T10:00:0xZ',
    '2026-10-05',
    '"2026-10-06T00:00:00Z"',
    '',
  )
  const row = fc
    .record({
      id,
      instant,
      ad: cell,
      visitor,
      theirs: fc.constantFrom('n1', 'n2', ''),
      note: cell,
      bad: fc.nat(12),
    })
    .map(({ id, instant, ad, visitor, theirs, note, bad }) => {
      if (bad === 0) return 'too,few'
      if (bad === 1) return ''
      return `${id},${instant},${bad === 2 ? '' : 'norrfeed'},c1,${ad},${visitor},${theirs},Desktop,${note}${bad === 3 ? ',more' : ''}`
    })
  const some = (...texts: string[]) => fc.subarray(texts).map(chosen => new Set(chosen))
  const names: fc.Arbitrary<NamedClicks> = fc.record({
    clickIds: some('k1', 'k3', 'clé', '-k7', 'n1'),
    networkClickIds: some('n1', 'k2'),
    visitors: some('v1', 'vé'),
  })

  it('has the same clicks, and rejects with the same lines, as when its text is read, whole or in stretches', () => {
    fc.assert(
      fc.property(
        fc.array(row, { minLength: 1, maxLength: 30 }),
        fc.integer({ min: 1, max: 4 }),
        names,
        fc.constantFrom('\n', '\r\n'),
        fc.boolean(),
        fc.constantFrom('', '\uFEFF'),
        (rows, count, named, newline, ends, mark) => {
          const text = `${mark}${[HEADER, ...rows].join(newline)}${ends ? newline : ''}`
          write(text)
          const wanted = readClickText(text, named)
          expect(readClicks(path, named)).toEqual(wanted)
          const stretches = stretchesOf(path, count)
          if (!stretches) return
          const scans = stretches.map(stretch => readStretch(stretch)!)
          const byClick = new Set(scans.flatMap(scan => [...scan.visitorsByClick(named)]))
          expect(
            foundIn(
              scans,
              scans.map(scan => scan.part(named, byClick)),
            ),
          ).toEqual(wanted)
        },
      ),
      { numRuns: 200 },
    )
  })

  const all = {
    clickIds: new Set(['k1', 'k2']),
    networkClickIds: new Set<string>(),
    visitors: new Set<string>(),
  }
  it.each([
    ['a cell of two lines', `${HEADER}\nk1,2026-10-05T10:00:00Z,norrfeed,c1,a1,v1,,,"a\nb"\n`],
    [
      'a quotation mark that nobody closes',
      `${HEADER}\nk1,2026-10-05T10:00:00Z,norrfeed,c1,a1,v1,,,"a\nk2,2026-10-05T10:00:00Z,norrfeed,c1,a1,v1,,,b\n`,
    ],
    ['a quotation mark within a cell', `${HEADER}\nk1,2026-10-05T10:00:00Z,norrfeed,c1,a"1,v1,,,b\n`],
    ['lines that end with a return alone', `${HEADER}\rk1,2026-10-05T10:00:00Z,norrfeed,c1,a1,v1,,,b`],
    [
      'a heading of two lines',
      `${HEADER.replace('note', '"no\nte"')}\nk1,2026-10-05T10:00:00Z,norrfeed,c1,a1,v1,,,b\n`,
    ],
    ['a header alone', HEADER],
  ])('is read by its text where it has %s', (_, text) => {
    write(text)
    const [stretch] = stretchesOf(path, 1) ?? []
    expect(stretch ? readStretch(stretch) : null).toBeNull()
    expect(readClicks(path, all)).toEqual(readClickText(text, all))
  })
  it.each([
    ['no table', 'a,b\nc,d\n', 'lacks the required column'],
    ['nothing', '', 'is empty'],
    ['bytes that are no text', `${HEADER}\nk1,\u0000`, 'is not text'],
  ])('of %s is refused', (_, text, reason) => {
    write(text)
    expect(() => readClicks(path, all)).toThrow(reason)
  })
})

it('keeps names apart that are the same letter where another encoding is read as UTF-8', () => {
  const rows = ['K\xf6ln', 'K\xfcln', 'K\xf8ln'].map(
    (name, i) => `k${i},2026-10-05T10:00:00Z,norrfeed,${name},a${i},,,,`,
  )
  writeFileSync(path, Buffer.from(`${HEADER}\n${rows.join('\n')}\n`, 'latin1'))
  const named = {
    clickIds: new Set(['k0', 'k1', 'k2']),
    networkClickIds: new Set<string>(),
    visitors: new Set<string>(),
  }
  const { columns } = readClicks(path, named as NamedClicks)
  expect(columns.ads.map(ad => ad.campaign).sort()).toEqual(['Köln', 'Køln', 'Küln'])
})
