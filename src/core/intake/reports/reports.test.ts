import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { shippedProfiles } from '../../links/profiles'
import { type Day, formatDay, parseDay } from '../../shared/days'
import { formatAmount } from '../../shared/money'
import { type DecimalMark, dateReader, decimalMarks, readFigure } from './cells'
import { guessForms, guessMapping } from './guess'
import { levelOf, problemsOf, type ReportMapping } from './mapping'
import { type DateOrder, dateOrders } from './moment'
import { readReport, sumByConversion, sumByDay } from './read'

const own = { currency: 'EUR', time_zone: 'Europe/Lisbon' }
const profile = shippedProfiles.find(p => p.id === 'norrfeed')!
const asItIs = (_: string, name: string) => name

const writeDate: Record<DateOrder, (y: string, m: string, d: string) => string> = {
  ymd: (y, m, d) => `${y}-${m}-${d}`,
  dmy: (y, m, d) => `${d}.${m}.${y}`,
  mdy: (y, m, d) => `${m}/${d}/${y}`,
}
const writeDay = (day: Day, order: DateOrder) => {
  const [y, m, d] = formatDay(day).split('-') as [string, string, string]
  return writeDate[order](y, m, d)
}
const writeMoney = (cents: number, mark: DecimalMark) => {
  const [whole, fraction] = formatAmount(cents, 'EUR').split('.') as [string, string]
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, mark === '.' ? ',' : '.')
  return `${grouped}${mark}${fraction}`
}

const line = fc.record({
  day: fc.integer({ min: 0, max: 20 }).map(d => parseDay('2026-10-05')! + d),
  ad: fc.constantFrom('a1', 'a2', 'a3'),
  spend: fc.integer({ min: 0, max: 500_000_00 }),
  impressions: fc.nat(100_000),
  clicks: fc.nat(1000),
  claims: fc.nat(40),
  value: fc.integer({ min: 0, max: 90_000_00 }),
})
const header = [
  'Date',
  'Campaign ref',
  'Ad ref',
  'Cost (EUR)',
  'Times shown',
  'Clicks',
  'Orders',
  'Order value',
]

describe('a report of any columns', () => {
  it('sums to the same however its dates and numbers are written, and whatever splits its lines', () => {
    fc.assert(
      fc.property(
        fc.array(line, { minLength: 1, maxLength: 60 }),
        fc.constantFrom(...dateOrders),
        fc.constantFrom(...decimalMarks),
        (rows, order, mark) => {
          const cells = rows.map(r => [
            writeDay(r.day, order),
            'c1',
            r.ad,
            writeMoney(r.spend, mark),
            String(r.impressions),
            String(r.clicks),
            String(r.claims),
            writeMoney(r.value, mark),
          ])
          const guess = guessMapping({ header, rows: cells }, profile, own).mapping
          const mapping: ReportMapping = { ...guess, date_order: order, decimal: mark }
          expect(problemsOf(mapping, header)).toEqual([])
          const lines = cells.map((c, i) => ({ cells: c, line: i + 2 }))
          const read = readReport(header, lines, mapping, 'norrfeed', asItIs)
          expect(read.rejected).toEqual([])
          const sums = sumByDay(read)
          for (const figure of ['spend', 'impressions', 'clicks', 'claims'] as const)
            expect(sums.reduce((sum, d) => sum + d[figure], 0)).toBe(
              rows.reduce((sum, r) => sum + r[figure], 0),
            )
          // A conversion of nothing has no value to keep.
          const valued = rows.filter(r => r.claims > 0)
          expect(sums.reduce((sum, d) => sum + d.value, 0)).toBe(valued.reduce((sum, r) => sum + r.value, 0))
        },
      ),
      { numRuns: 60 },
    )
  })

  const sheet = (headings: string, ...rows: string[]) => ({
    header: headings.split('|'),
    rows: rows.map(r => r.split('|')),
  })
  it('is guessed by the words of the trade and the network’s own names of its levels', () => {
    const own_words = sheet(
      'Period|Line|Line id|Post|Post id|Charged|CTR (%)|Sales after a click|Sales after a view|Value of sales|Mood',
      '31.10.2026|Spring|l1|Hello|p1|1.234,50|2,1|3|1|99,00|calm',
    )
    const mothwire = { ...profile, level_names: { ad_set: 'line', ad: 'post' } }
    const { mapping, doubts } = guessMapping(own_words, mothwire, own)
    expect(mapping).toMatchObject({
      columns: {
        date: 'Period',
        ad_set_name: 'Line',
        ad_set_id: 'Line id',
        ad_name: 'Post',
        ad_id: 'Post id',
        spend: 'Charged',
        click_through: 'Sales after a click',
        view_through: 'Sales after a view',
        value: 'Value of sales',
      },
      date_order: 'dmy',
      decimal: ',',
    })
    expect([Object.values(mapping.columns), doubts]).toEqual([
      expect.not.arrayContaining(['CTR (%)', 'Mood']),
      [],
    ])
    expect(levelOf(mapping)).toBe('ad')
  })
  it('counts no line that sums the others, whatever it is called, and every one that only looks like it', () => {
    const columns = ['Day', 'Campaign', 'Campaign ID', 'Cost', 'Clicks']
    const mapping = guessMapping(
      { header: columns, rows: [['2026-10-05', 'Autumn', 'c1', '5.00', '3']] },
      profile,
      own,
    ).mapping
    const read = (rows: string[][], header = columns, by = mapping) =>
      readReport(
        header,
        rows.map((cells, i) => ({ cells, line: i + 2 })),
        by,
        'norrfeed',
        asItIs,
      )
    const ads = [
      ['2026-10-05', 'Autumn', 'c1', '5.00', '3'],
      ['2026-10-05', 'Winter', 'c2', '7.50', '4'],
      ['2026-10-06', 'Autumn', 'c1', '1.00', '1'],
    ]
    const spent = (rows: string[][]) => read(rows).delivery.reduce((sum, row) => sum + row.spend, 0)
    for (const sum of [
      ['', 'Total of 378 rows', '', '13.50', '8'],
      ['Razem', 'Wszystkie kampanie', '', '13.50', '8'],
      ['2026-10-05', 'Sum of the day', '', '12.50', '7'],
    ]) {
      expect(read([...ads, sum]).totals).toBe(1)
      expect(spent([sum, ...ads])).toBe(1350)
    }
    // A campaign without an ID whose figures are its own.
    expect(read([...ads, ['2026-10-06', 'Spring', '', '13.50', '9']]).totals).toBe(0)
    // Where nothing has an ID, the first or the last line may be the sum.
    const { campaign_id: _, ...bare } = mapping.columns
    const short = (row: string[]) => [row[0]!, row[1]!, row[3]!, row[4]!]
    const without = read(
      [...ads, ['', 'Alles', '', '13.50', '8']].map(short),
      ['Day', 'Campaign', 'Cost', 'Clicks'],
      { ...mapping, columns: bare },
    )
    expect([without.totals, without.delivery.length, without.rejected]).toEqual([1, 3, []])
  })
  it('counts no line of totals, with a day or without, but an ad that is called so', () => {
    const mapping: ReportMapping = {
      columns: { date: 'Day', campaign_name: 'Campaign', ad_name: 'Ad', spend: 'Spend' },
      date_order: 'ymd',
      covers: 'day',
      decimal: '.',
      currency: 'EUR',
      conversion: 'purchase',
      further: [],
      time_zone: 'UTC',
    }
    const rows = [
      ['2026-10-05', 'Autumn', 'Total wool', '5.00'],
      ['2026-10-05', 'Autumn', 'Oak', '7.00'],
      ['2026-10-05', 'Total', '', '12.00'],
      ['2026-10-05', 'Autumn', 'Subtotal', '12.00'],
      ['Grand total', '', '', '12.00'],
      ['', '', '', '12.00'],
      ['', 'Autumn', 'Oak', '1.00'],
    ]
    const lines = rows.map((cells, i) => ({ cells, line: i + 2 }))
    const read = readReport(['Day', 'Campaign', 'Ad', 'Spend'], lines, mapping, 'norrfeed', asItIs)
    expect(sumByDay(read).map(d => d.spend)).toEqual([1200])
    expect(read.totals).toBe(4)
    // A row of an ad without its day is no total: somebody has to mend it.
    expect(read.rejected).toMatchObject([{ line: 8, column: 'Day', reason: 'required' }])
  })
  it('says that days stand in another order, and is read by the order of the column that is chosen', () => {
    const own = sheet(
      'Booked|Day|Campaign|Cost',
      '2026-10-01|31/10/2026|c|1.234,50',
      '2026-10-02|30/10/2026|c|2,00',
    )
    const { mapping } = guessMapping(own, null, { currency: 'EUR', time_zone: 'UTC' })
    const lines = own.rows.map((cells, i) => ({ cells, line: i + 2 }))
    const wrong = { ...mapping, columns: { ...mapping.columns, date: 'Day' }, date_order: 'mdy' as const }
    expect(readReport(own.header, lines, wrong, 'norrfeed', asItIs).rejected).toMatchObject([
      { line: 2, reason: 'other_date_order', value: '31/10/2026' },
      { line: 3, reason: 'other_date_order' },
    ])
    expect(guessForms(own, { date: 'Booked', spend: 'Cost' }, 'EUR')).toEqual({
      forms: { date_order: 'ymd', covers: 'day', decimal: ',', currency: 'EUR' },
      doubts: [],
    })
    expect(guessForms(own, { date: 'Day', spend: 'Cost' }, 'EUR').forms.date_order).toBe('dmy')
  })
  it.each([
    ['Dia;Campanha;Valor gasto;Cliques;Conversões;Valor das conversões', 'spend', 'Valor gasto'],
    ['Dia;Campanha;Investimento;Cliques;Conversões', 'spend', 'Investimento'],
    ['Dzień;Kampania;Koszt;Kliknięcia;Konwersje;Wartość konwersji', 'spend', 'Koszt'],
    ['Dzień;Kampania;Koszt;Kliknięcia;Konwersje;Wartość konwersji', 'clicks', 'Kliknięcia'],
    ['Dzień;Kampania;Koszt;Kliknięcia;Konwersje;Wartość konwersji', 'value', 'Wartość konwersji'],
    ['Jour;Campagne;Montant dépensé;Clics;Achats', 'spend', 'Montant dépensé'],
  ] as const)('of %s: its %s is in %s', (heading, field, column) => {
    const header = heading.split(';')
    const row = ['24/11/2026', 'Outono', '60,50', '12', '0,50', '30,25'].slice(0, header.length)
    const { mapping } = guessMapping({ header, rows: [row] }, profile, own)
    expect(mapping.columns[field]).toBe(column)
    expect(mapping.decimal).toBe(',')
  })
  it('says that a date could be meant in more than one way', () => {
    const unclear = sheet('Date|Campaign|Cost', '05/06/2026|Kits|1.00', '07/06/2026|Kits|2.00')
    expect(guessMapping(unclear, profile, own).doubts).toEqual(['date_order'])
    const clear = sheet('Date|Campaign|Cost', '05/06/2026|Kits|1.00', '17/06/2026|Kits|2.00')
    expect(guessMapping(clear, profile, own)).toMatchObject({ mapping: { date_order: 'dmy' }, doubts: [] })
  })
  it('is refused with what lacks, before anything is read', () => {
    const { mapping } = guessMapping(sheet('Day|Cost|Purchases', '2026-10-01|1.00|2'), profile, own)
    expect(problemsOf(mapping, ['Day', 'Cost'])).toEqual([
      { code: 'not_mapped', field: 'campaign' },
      { code: 'no_such_column', field: 'click_through', column: 'Purchases' },
    ])
  })
  it('brings conversions at the level that it has, and credited in parts', () => {
    const { header, rows } = sheet(
      'Day|Campaign ID|Campaign|Spent|Purchases',
      '2026-10-01|c1|Kits|10.00|1.50',
      '2026-10-01|c1|Kits|2.00|0.25',
      '2026-10-01|c2|Yarn|4.00|2',
    )
    const { mapping } = guessMapping({ header, rows }, profile, own)
    expect(problemsOf(mapping, header)).toEqual([])
    const read = readReport(
      header,
      rows.map((cells, i) => ({ cells, line: i + 2 })),
      mapping,
      'norrfeed',
      asItIs,
    )
    expect(read.rejected).toEqual([])
    expect(read.claims).toMatchObject([
      { campaign_id: 'c1', ad_set_id: '', ad_id: '', click_through: 1.75 },
      { campaign_id: 'c2', ad_set_id: '', ad_id: '', click_through: 2 },
    ])
    expect(sumByDay(read)).toMatchObject([{ spend: 1600, claims: 3.75 }])
  })
  it('leaves totals out, and rejects each cell that is no date, amount or count with its line', () => {
    const { header, rows } = sheet(
      'Day|Campaign|Ad|Spent|Clicks',
      '2026-10-01|Kits|Oak|10.00|5',
      'soon|Kits|Oak|10.00|5',
      '2026-10-01|Kits|Oak|ten|5',
      '2026-10-01|Kits|Oak|10.00|2.5',
      '2026-10-01|Kits|Oak|-4.00|1',
      'Total|||20.00|10',
      '|||20.00|10',
    )
    const { mapping } = guessMapping({ header, rows: rows.slice(0, 1) }, profile, own)
    const read = readReport(
      header,
      rows.map((cells, i) => ({ cells, line: i + 2 })),
      mapping,
      'norrfeed',
      asItIs,
    )
    expect(read.rejected.map(r => [r.line, r.column, r.reason])).toEqual([
      [3, 'Day', 'not_a_date'],
      [4, 'Spent', 'not_an_amount'],
      [5, 'Clicks', 'not_a_count'],
      [6, 'Spent', 'negative_amount'],
    ])
    expect([read.totals, read.delivery.length, read.delivery[0]]).toMatchObject([
      2,
      1,
      { spend: 1000, clicks: 5, campaign_id: 'Kits', ad_id: 'Oak' },
    ])
  })
})

describe('figures and dates', () => {
  it('are read past signs of currency and marks between thousands, and rounded half up', () => {
    expect(readFigure('€ 1,234.565', '.', 2)).toBe('1234.57')
    expect(readFigure('1.234,5 EUR', ',', 2)).toBe('1234.50')
    expect(readFigure("12'345", '.', 0)).toBe('12345')
    expect(readFigure('–', '.', 2)).toBe('0')
    expect(readFigure('12.34.56', '.', 2)).toBeNull()
    expect(readFigure('1,23', '.', 2)).toBeNull()
  })
  it('leave a time behind the date out, and know months by name', () => {
    expect(dateReader('ymd')('2026-10-05 00:00:00')).toBe(parseDay('2026-10-05'))
    expect(dateReader('dmy')('5 Oct 2026')).toBe(parseDay('2026-10-05'))
    expect(dateReader('mdy')('Oct 5, 2026')).toBe(parseDay('2026-10-05'))
    expect(dateReader('dmy')('31.02.2026')).toBeNull()
  })
})

it.each([
  [
    'Tag;Kampagne;Anzeigengruppe;Anzeige;Ausgaben;Impressionen;Klicks;Conversions;Kosten pro Klick',
    'date campaign_name ad_set_name ad_name spend impressions clicks click_through',
  ],
  [
    'Jour;Campagne;Annonce;Dépenses (EUR);Affichages;Clics;Achats;Taux de clic',
    'date campaign_name ad_name spend impressions clicks click_through',
  ],
  [
    'Fecha;Campaña;Anuncio;Gastos;Impresiones;Clics;Compras;Moneda',
    'date campaign_name ad_name spend impressions clicks click_through currency',
  ],
  [
    '日付;キャンペーン名;広告;費用;表示回数;クリック数;コンバージョン;クリック率',
    'date campaign_name ad_name spend impressions clicks click_through',
  ],
])('a report is read in the language that it comes in: %s', (head, fields) => {
  const header = head.split(';')
  const { columns } = guessMapping(
    { header, rows: [header.map((_, i) => (i === 0 ? '2026-11-02' : '1'))] },
    null,
    { currency: 'EUR', time_zone: 'UTC' },
  ).mapping
  expect(columns).toEqual(
    Object.fromEntries(
      fields.split(' ').map((field, i) => [field, header.filter(h => !/pro|Taux|率$/.test(h))[i]]),
    ),
  )
})

describe('several conversions of a report', () => {
  const header = [
    'Day',
    'Campaign',
    'Ad',
    'Cost',
    'Purchases',
    'Purchase value',
    'Purchases (1-day view)',
    'Leads',
    'Lead value',
  ]
  const rows = [
    ['2026-11-02', 'Autumn', 'Oak', '10.00', '2', '80.00', '1', '5', '12.50'],
    ['2026-11-02', 'Autumn', 'Elm', '4.00', '0', '0.00', '0', '3', '7.50'],
  ]
  it('are taken each as what it is, with its own value', () => {
    const { mapping } = guessMapping({ header, rows }, null, own)
    expect(mapping).toMatchObject({
      conversion: 'purchase',
      columns: {
        click_through: 'Purchases',
        view_through: 'Purchases (1-day view)',
        value: 'Purchase value',
      },
      further: [{ conversion: 'lead', click_through: 'Leads', value: 'Lead value' }],
    })
    const read = readReport(
      header,
      rows.map((cells, i) => ({ cells, line: i + 2 })),
      mapping,
      'kelpie',
      (_, n) => n,
    )
    expect(
      read.claims.map(row => [row.ad_id, row.conversion, row.click_through, row.view_through, row.value]),
    ).toEqual([
      ['Oak', 'purchase', 2, 1, '80.00'],
      ['Oak', 'lead', 5, 0, '12.50'],
      ['Elm', 'lead', 3, 0, '7.50'],
    ])
    expect(sumByConversion(read.claims)).toEqual([
      { conversion: 'purchase', count: 3, value: 8000 },
      { conversion: 'lead', count: 8, value: 2000 },
    ])
  })
  it('are not taken again as a sum of all, nor where one is only a part of them', () => {
    const guess = (headings: string[], cells: string[]) => {
      const { mapping } = guessMapping(
        { header: ['Day', 'Campaign', ...headings], rows: [['2026-11-02', 'Autumn', ...cells]] },
        null,
        own,
      )
      return [
        mapping.columns.click_through,
        mapping.conversion,
        mapping.further.map(one => one.click_through),
      ]
    }
    expect(guess(['Conversions', 'Purchases', 'Leads'], ['9', '2', '5'])).toEqual([
      'Purchases',
      'purchase',
      ['Leads'],
    ])
    expect(guess(['Conversions', 'Leads', 'Sign-ups'], ['7', '5', '2'])).toEqual([
      'Leads',
      'lead',
      ['Sign-ups'],
    ])
    expect(guess(['Conversions', 'Leads'], ['2', '5'])).toEqual(['Conversions', 'purchase', ['Leads']])
    expect(guess(['Leads'], ['5'])).toEqual(['Leads', 'lead', []])
  })
})

it('counts as nothing what is only said to be below a number, and says how often', () => {
  const header = ['Day', 'Campaign', 'Cost', 'Clicks', 'Purchases']
  const rows = [
    ['2026-11-02', 'Autumn', '4.00', '12', '<10'],
    ['2026-11-03', 'Autumn', '4.00', '< 5', '2'],
  ]
  const { mapping } = guessMapping({ header, rows }, null, own)
  const read = readReport(
    header,
    rows.map((cells, i) => ({ cells, line: i + 2 })),
    mapping,
    'kelpie',
    asItIs,
  )
  expect([read.hidden, read.rejected]).toEqual([2, []])
  expect(read.delivery.map(row => row.clicks)).toEqual([12, 0])
  expect(read.claims.map(row => row.click_through)).toEqual([2])
})
