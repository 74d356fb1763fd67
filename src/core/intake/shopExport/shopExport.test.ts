import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { hand, order, orderCells, readBack, write } from './anyExport'
import { plain } from './fields'
import { guessExport } from './guess'
import { type ExportMapping, exportGapsOf } from './mapping'
import { readExport } from './read'

const own = { currency: 'EUR', time_zone: 'Europe/Lisbon' }
describe('an export of a shop', () => {
  it('is read as it was meant, or what it could mean is asked', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(order, { minLength: 1, maxLength: 25, selector: o => o.id }),
        hand,
        fc.constantFrom('order', 'line'),
        (orders, by, amounts) => {
          const sheet = write(orders, by, amounts)
          const read = readBack(sheet, by, amounts)
          // Lines of orders that each have but one item say nothing else: then a line is an order with its shipping.
          const repeats = new Set(sheet.rows.map(row => row[0])).size < sheet.rows.length
          if (repeats || amounts === 'order') expect(read).toEqual(orders.map(o => orderCells(o, by)))
        },
      ),
    )
  })

  const read = (text: string, change: Partial<ExportMapping> = {}) => {
    const [header, ...rows] = text.split('\n').map(line => line.split(';')) as [string[], ...string[][]]
    const guess = guessExport({ header, rows }, own)
    const lines = rows.map((cells, i) => ({ cells, line: i + 2 }))
    return { ...guess, ...readExport(header, lines, { ...guess.mapping, ...change }) }
  }
  it('has what went back in lines below nothing, and tax apart', () => {
    const { orders, mapping, rejected } = read(
      'Order ID;Date;Net total (GBP);VAT;Shipping\nA1;2026-11-02 09:30;100.00;20.00;5.00\nA2;2026-11-03;50.00;10.00;0.00\nA1;2026-11-09;-40.00;-8.00;\nB9;2026-11-09;-1.00;-0.20;',
    )
    expect(mapping).toMatchObject({ currency: 'GBP', amounts: 'line' })
    expect(
      orders.map(o => [o.cells.order_id, o.cells.total, o.cells.tax, o.cells.refunded, o.cells.status]),
    ).toEqual([
      ['A1', '125.00', '20.00', '48.00', 'partially_refunded'],
      ['A2', '60.00', '10.00', '0.00', 'paid'],
    ])
    expect(orders[0]!.cells.ordered_at).toBe('2026-11-02T09:30:00.000Z')
    expect(rejected).toMatchObject([{ line: 5, reason: 'negative_amount' }])
  })
  it('has the group of products of an order’s dearest item', () => {
    const { orders, mapping } = read(
      'Bestellnummer;Datum;Artikel;Warengruppe;Einzelpreis (EUR);Menge\n1;2026-11-02;Garn;Garne;18,00;2\n1;2026-11-02;Bausatz;Webrahmen;149,00;1\n2;2026-11-02;Garn;Garne;18,00;1',
    )
    expect(mapping.columns.product_group).toBe('Warengruppe')
    expect(orders.map(o => o.cells.product_group)).toEqual(['Webrahmen', 'Garne'])
  })
  it('says which totals are not what they are made of', () => {
    const { sums } = read(
      'order;date;total;net;tax;shipping\n1;2026-11-02;125.00;100.00;20.00;5.00\n2;2026-11-02;60.00;50.00;10.00;0.00\n3;2026-11-02;61.00;50.00;10.00;0.00',
    )
    expect(sums).toEqual({ compared: 3, odd: [4] })
  })
  it('takes no heading for what its words do not say', () => {
    const { mapping } = read(
      'Order;Order notes;Date;Ship date;Total;Total items;Tax rate\n1;none;2026-11-02;2026-11-04;5.00;2;0.2',
    )
    expect(mapping.columns).toEqual({ order_id: 'Order', ordered_at: 'Date', total: 'Total' })
  })
  it('keeps what it does not know, and says what cannot be read, with its line', () => {
    const { orders, rejected } = read(
      'Order no;Created at;Status;Total;Gift note\n1;2026-11-02T10:00:00+01:00;Paid;5.00;for Ana\n2;soon;Paid;5.00;\n3;2026-11-02;strange;5.00;\n;2026-11-02;Paid;5.00;\n4;2026-11-02;Paid;five;',
    )
    expect(orders.map(o => [o.cells.ordered_at, o.cells['Gift note']])).toEqual([
      ['2026-11-02T09:00:00.000Z', 'for Ana'],
    ])
    expect(rejected.map(r => [r.line, r.column, r.reason])).toEqual([
      [3, 'Created at', 'not_an_instant'],
      [4, 'Status', 'unknown_status'],
      [5, 'Order no', 'required'],
      [6, 'Total', 'not_an_amount'],
    ])
  })
  it('asks where a mark could part thousands or fractions, and where lines say the same again', () => {
    expect(read('Order;Date;Total (EUR)\n1;2026-11-02;1.234').doubts).toEqual(['decimal'])
    expect(read('Order;Date;Total (EUR)\n1;2026-11-02;5.00\n1;2026-11-02;5.00').doubts).toEqual(['amounts'])
    expect(read('Order;Date;Total\n1;22.11.2026;5.00').doubts).toEqual(['currency'])
    expect(read('Order;Date;Total in EUR\n1;02/11/2026;5.00').doubts).toEqual(['date_order'])
  })
  it.each([
    [
      'Polish',
      'Numer zamówienia;Data zamówienia;Godzina;Status;Wartość brutto;Podatek;Koszt dostawy;Kwota zwrotu;E-mail klienta;Waluta',
      [
        'order_id',
        'ordered_at',
        'ordered_time',
        'status',
        'total',
        'tax',
        'shipping',
        'refunded',
        'email',
        'currency',
      ],
      { Opłacone: 'paid', Anulowane: 'cancelled' },
    ],
    [
      'Portuguese',
      'Número do pedido;Data da compra;Situação;Total pago;Frete;Desconto;Valor reembolsado;Quantidade;Página de entrada',
      [
        'order_id',
        'ordered_at',
        'status',
        'total',
        'shipping',
        'discount',
        'refunded',
        'quantity',
        'landing_url',
      ],
      { Concluído: 'paid', 'Aguardando pagamento': 'cancelled' },
    ],
    [
      'French',
      'N° commande;Date de création;Statut de la commande;Montant total;Montant remboursé;TVA;Frais de livraison;Page d’arrivée',
      ['order_id', 'ordered_at', 'status', 'total', 'refunded', 'tax', 'shipping', 'landing_url'],
      { Expédié: 'paid', Échouée: 'cancelled' },
    ],
  ])('knows the headings and statuses of a %s shop', (_, headings, fields, statuses) => {
    const header = headings.split(';')
    const words = Object.keys(statuses)
    const isAmount = (field: string) =>
      ['total', 'net', 'tax', 'shipping', 'discount', 'refunded', 'unit_price', 'quantity'].includes(field)
    const cellOf = (field: string, word: string) =>
      field === 'status'
        ? word
        : field === 'email'
          ? 'a@mail.example'
          : field === 'currency'
            ? 'PLN'
            : isAmount(field)
              ? '10.00'
              : '2026-10-05'
    const rows = words.map(word => fields.map(field => cellOf(field, word)))
    const { mapping } = guessExport({ header, rows }, own)
    expect(
      Object.fromEntries(Object.entries(mapping.columns).map(([field, heading]) => [heading, field])),
    ).toEqual(Object.fromEntries(header.map((heading, i) => [heading, fields[i]])))
    expect(mapping.statuses).toMatchObject(
      Object.fromEntries(Object.entries(statuses).map(([word, status]) => [plain(word), status])),
    )
  })
  it('says what it lacks: a status, refunds, where the order came from', () => {
    const lacks = (header: string[]) =>
      exportGapsOf(guessExport({ header, rows: [header.map(() => '1')] }, own).mapping)
    expect(lacks(['Order number', 'Date', 'Total'])).toEqual(['status', 'refunds', 'origin'])
    expect(lacks(['Order number', 'Date', 'Total', 'Status', 'Refunded', 'Landing page'])).toEqual([])
  })
})
