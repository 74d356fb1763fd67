import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { guessMapping } from '@/core/intake/reports/guess'
import { problemsOf } from '@/core/intake/reports/mapping'
import { readReport, sumByDay } from '@/core/intake/reports/read'
import { shippedProfiles } from '@/core/links/profiles'
import { simulateMarket } from '@/practice/market/simulate'
import { writeReport } from '@/practice/reports'
import { FileRefused } from './csv'
import { decodeText } from './encoding'
import { writeFolder } from './folder'
import { readSheet } from './sheet'

const own = { currency: 'EUR', time_zone: 'Europe/Lisbon' }

describe('a table of any columns', () => {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-reports-'))
  const market = simulateMarket({ seed: 3, days: 12, scale: 0.5, end: 20_000 })
  writeFolder(join(folder, 'market'), { 'delivery.csv': market.delivery, 'claims.csv': market.claims }, {})

  it.each(['norrfeed', 'kelpie', 'mothwire'])(
    'is read right as %s writes it, without a correction',
    network => {
      const { header, lines } = readSheet(writeReport(folder, network, '0000', '9999')!, 'report')
      const rows = lines.slice(0, 200).map(line => [...line.cells])
      const profile = shippedProfiles.find(p => p.id === network)!
      const { mapping, doubts } = guessMapping({ header, rows }, profile, own)
      expect([problemsOf(mapping, header), doubts]).toEqual([[], []])
      const read = readReport(header, lines, mapping, network, (_, name) => name)
      expect(read.rejected).toEqual([])
      const served = market.delivery.filter(row => row.network === network)
      const shown = (key: string) => served.reduce((sum, row) => sum + Number(row[key]), 0)
      const days = sumByDay(read)
      expect(days.reduce((sum, d) => sum + d.impressions, 0)).toBe(shown('impressions'))
      // The last days are restated, those before are as they were.
      const early = days.slice(0, -3)
      const before = served.filter(row => row.date! < '2024-10-02')
      const cents = before.reduce((sum, row) => sum + Math.round(Number(row.spend) * 100), 0)
      expect(early.filter(d => d.day < 19_998).reduce((sum, d) => sum + d.spend, 0)).toBe(cents)
      const ads = new Set(served.map(row => row.ad_id))
      expect(read.delivery.every(row => row.ad_id !== null && ads.has(row.ad_id))).toBe(true)
    },
  )

  it('may stand in UTF-16 with tabs, below other lines, with headings twice', () => {
    const text = '\uFEFFMy report\n\nDay\tCost\tCost\n2026-10-01\t1.00\t2.00\n'
    const bytes = Uint8Array.from(Buffer.from(text, 'utf16le'))
    expect(readSheet(decodeText(bytes), 'report')).toEqual({
      damaged: [],
      header: ['Day', 'Cost', 'Cost (2)'],
      lines: [{ cells: ['2026-10-01', '1.00', '2.00'], line: 4 }],
    })
  })
  it('is parted by the mark that parts heading and rows alike, whatever else its cells hold', () => {
    const rows = ['Zoé, Lyon, France', 'Jean, Paris, France', 'Anaïs, Nice, France'].map(
      (name, i) => `${i};${name};12,50;3,20;1,00`,
    )
    const { header, lines } = readSheet(['no;client;total;tva;port', ...rows].join('\n'), 'orders')
    expect(header).toEqual(['no', 'client', 'total', 'tva', 'port'])
    expect(lines.map(line => line.cells.length)).toEqual([5, 5, 5])
    // Lines above the heading do not count for any mark.
    const titled = readSheet(
      ['Orders, November', '', 'no;client;total', '1;Zoé;12,50', '2;Jean;3,20'].join('\n'),
      'orders',
    )
    expect([titled.header, titled.lines.length]).toEqual([['no', 'client', 'total'], 2])
  })
  it('is parted as its first line says', () => {
    expect(
      readSheet('sep=|\nday,time|cost\n2026-10-01,09:00|1\n2026-10-02,10:00|2\n', 'report'),
    ).toMatchObject({
      header: ['day,time', 'cost'],
      lines: [
        { cells: ['2026-10-01,09:00', '1'], line: 3 },
        { cells: ['2026-10-02,10:00', '2'], line: 4 },
      ],
    })
  })
  it.each([
    ['nothing at all', ''],
    ['a picture', '\u0089PNG\u0000\u0000'],
    ['prose', 'Dear all\n\nsee you\n'],
  ])('is not %s', (_, content) => {
    expect(() => readSheet(content, 'report')).toThrow(FileRefused)
  })
})
