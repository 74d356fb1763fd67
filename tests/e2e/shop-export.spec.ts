import iconv from 'iconv-lite'
import writeXlsxFile from 'write-excel-file/node'
import { type Application, startApplication } from './application'
import { expect, type Locator, type Page, test } from './test'

let app: Application
test.beforeEach(async () => {
  app = await startApplication('start', 5400)
})
test.afterEach(() => app?.stop())

/** What a person does, one thing after the other, counted. */
function person(page: Page) {
  let steps = 0
  const did = async (act: Promise<unknown>) => {
    steps += 1
    await act
  }
  return {
    press: (name: string | RegExp) => did(page.getByRole('button', { name }).first().click()),
    follow: (name: string | RegExp) => did(page.getByRole('link', { name }).first().click()),
    fill: (field: Locator, text: string) => did(field.fill(text)),
    choose: (field: Locator, value: string) => did(field.selectOption(value)),
    key: (key: string) => did(page.keyboard.press(key)),
    /** drops files on whichever screen is there, and says where they belong */
    drop: (...files: [name: string, bytes: Buffer][]) =>
      did(
        page.locator('main').evaluate(
          (main, given) => {
            const data = new DataTransfer()
            for (const [name, text] of given) {
              const bytes = Uint8Array.from(atob(text), letter => letter.charCodeAt(0))
              data.items.add(new File([bytes], name))
            }
            main.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }))
          },
          files.map(([name, bytes]) => [name, bytes.toString('base64')] as const),
        ),
      ),
    steps: () => steps,
  }
}
type Person = ReturnType<typeof person>
const heading = (page: Page) => page.getByRole('heading', { level: 1 })

/** A network of one's own, begun by its name alone. */
async function beginNetwork(page: Page, someone: Person, name: string) {
  await someone.press(/Name one|Another one/)
  await someone.fill(page.getByLabel('Its name'), name)
  await someone.press('Begin it')
  await expect(page.getByRole('listitem').filter({ hasText: 'Name the networks' })).toContainText(name)
}

/** Looks at what a report changes and takes it in; `more` follows when others wait. */
async function takeReport(page: Page, someone: Person, network: string, days: number) {
  await someone.press('Show what it changes')
  await someone.press(`Replace ${days} days of ${network}`)
  await expect(page.getByText(`${days} days of ${network} replaced`)).toBeVisible()
}

const takeOrders = async (page: Page, someone: Person, orders: number) => {
  await someone.press(/^Import [\d,]+ orders?$/)
  await expect(
    page.getByRole('status').filter({ hasText: `${orders} orders in, 0 lines rejected` }),
  ).toBeVisible()
}

/** The number that is shown in the end, and what it is made of, against a count made apart. */
async function agrees(
  page: Page,
  someone: Person,
  {
    spend,
    claims,
    orders,
    value,
    digits = 2,
  }: { spend: number; claims: number; orders: number; value: number; digits?: number },
) {
  await someone.follow('Aequant')
  const shown = /One order cost ([\d,.]+) \w{3} .*: ([\d,.]+) \w{3} for an estimated ([\d,.]+) orders/
  await expect(heading(page)).toContainText(shown)
  const said = shown.exec(await heading(page).innerText())!
  const [cost, spent, estimated] = said.slice(1).map(text => Number(text.replaceAll(',', ''))) as [
    number,
    number,
    number,
  ]
  expect(spent).toBe(spend)
  expect(Math.abs(cost - spend / estimated)).toBeLessThan((cost * 0.06) / estimated + 0.01)
  const judged = await (await page.request.get(`${app.origin}/api/judge`)).json()
  expect([Number(judged.totals.spend), judged.totals.claimed]).toEqual([spend, claims])
  expect(judged.gap.orders).toBe(orders)
  const csv = await (await page.request.get(`${app.origin}/api/export/conversions`)).text()
  const worth = csv
    .trim()
    .split('\n')
    .slice(1)
    .reduce((sum, line) => sum + Number(line.split(',').at(-3)), 0)
  expect(worth).toBeCloseTo(value, digits)
  expect(someone.steps()).toBeLessThanOrEqual(60)
}

test('a shop in euro with semicolons, commas and a line an item, and two networks’ reports', async ({
  page,
}) => {
  const someone = person(page)
  await page.goto(app.origin)
  await expect(heading(page)).toContainText('Begin with the shop')
  await someone.press('Say it')
  await someone.fill(page.getByLabel('Name of the shop'), 'Webstube')
  await someone.fill(page.getByLabel('Margin of an order'), '45')
  await someone.key('Control+Enter')
  await expect(page.getByText('It is said.')).toBeVisible()
  await expect(page.getByText('Webstube')).toBeVisible()
  const items = [
    ['1001', '24.11.2026 09:15', 'bezahlt', '1.234,50', '197,10', '5,90', 'k-1', 'Webrahmen'],
    ['1001', '24.11.2026 09:15', 'bezahlt', '15,50', '2,47', '5,90', 'k-1', 'Garn'],
    ['1002', '25.11.2026 18:00', 'storniert', '40,00', '6,39', '4,90', 'k-2', 'Garn'],
    ['1003', '26.11.2026 07:30', 'bezahlt', '99,00', '15,81', '0,00', 'k-3', 'Kurs'],
  ]
  const head = [
    'Bestellnummer',
    'Bestelldatum',
    'Zahlungsstatus',
    'Betrag (EUR)',
    'MwSt',
    'Versandkosten',
    'Kunde',
    'Artikel',
  ]
  const rows = (table: string[][], mark: string) => Buffer.from(table.map(row => row.join(mark)).join('\r\n'))
  await someone.drop(['Bestellungen.csv', rows([head, ...items], ';')])
  await expect(page.getByLabel('Bestellungen.csv')).toHaveValue('shop')
  await someone.press('Take it there')
  await expect(page.getByLabel('A line’s amounts are of')).toHaveValue('line')
  await someone.press('Show what it changes')
  await expect(page.getByText('2 counts; 1 cancelled or not paid: does not count.')).toBeVisible()
  await takeOrders(page, someone, 3)
  await someone.follow('Aequant')
  await expect(heading(page)).toContainText('Which networks were paid to bring them?')
  await beginNetwork(page, someone, 'Märchenfunk')
  await beginNetwork(page, someone, 'Loomlight')
  // One report names ads and purchases in English, the other campaigns and what they cost in German.
  await someone.drop(
    [
      'loomlight.csv',
      rows(
        [
          ['Day', 'Campaign', 'Ad', 'Cost (EUR)', 'Purchases', 'Purchase value'],
          ['2026-11-24', 'Autumn', 'Oak', '60.50', '1', '1255.90'],
          ['2026-11-26', 'Autumn', 'Oak', '19.50', '1', '99.00'],
        ],
        ',',
      ),
    ],
    [
      'Bericht.csv',
      rows(
        [
          ['Tag', 'Kampagne', 'Ausgaben', 'Klicks'],
          ['24.11.2026', 'Herbst', '12,30', '21'],
          ['25.11.2026', 'Herbst', '7,70', '9'],
        ],
        ';',
      ),
    ],
  )
  await expect(page.getByLabel('loomlight.csv')).toHaveValue('report loomlight')
  await someone.choose(page.getByLabel('Bericht.csv'), 'report marchenfunk')
  await someone.press('Take them there')
  await takeReport(page, someone, 'Loomlight', 2)
  await someone.follow('Go on with it')
  await expect(heading(page)).toContainText('Bericht.csv')
  await takeReport(page, someone, 'Märchenfunk', 2)
  // 1,234.50 + 15.50 + 5.90 once, and 99.00; the cancelled one does not count.
  await agrees(page, someone, { spend: 100, claims: 2, orders: 2, value: 1354.9 })
  await expect(page.getByText('Loomlight, Märchenfunk, up to 26 Nov 2026.')).toBeVisible()
})

test('a workbook in pounds, net and tax apart, with what went back below nothing, and two reports', async ({
  page,
}) => {
  const someone = person(page)
  const head = ['Order number', 'Order date', 'Net total (GBP)', 'VAT', 'Shipping cost', 'Customer email']
  const rows = [
    ['G-1', new Date(Date.UTC(2026, 10, 2, 9, 30)), 100, 20, 5, 'a@post.example'],
    ['G-2', new Date(Date.UTC(2026, 10, 3)), 50, 10, 0, 'b@post.example'],
  ]
  const back = [['G-1', new Date(Date.UTC(2026, 10, 9)), -40, -8, 0, 'a@post.example']]
  const sheet = (own: unknown[][]) =>
    [head, ...own].map(row =>
      row.map(value => ({
        value,
        ...(value instanceof Date ? { type: Date, format: 'yyyy-mm-dd hh:mm' } : {}),
      })),
    )
  const book = await writeXlsxFile([
    { data: sheet(rows), sheet: 'Orders' },
    { data: sheet(back), sheet: 'Refunds' },
  ] as never).toBuffer()
  await page.goto(`${app.origin}/weigh`)
  await someone.drop(['orders.xlsx', book])
  await someone.press('Take it there')
  await someone.press('Show what it changes')
  // A shop in another currency than the workspace's is asked, not refused.
  await someone.press('Count everything in GBP')
  await expect(page.getByText('rates of some days are missing')).toBeHidden()
  await takeOrders(page, someone, 2)
  await someone.follow('Aequant')
  await beginNetwork(page, someone, 'Fernlight')
  await beginNetwork(page, someone, 'Ask & Weave')
  const tabs =
    'Report of ads\t\t\t\t\nReporting starts 2 November\t\t\t\t\nDate\tCampaign name\tAd set name\tAd name\tAmount spent\tResults\n2026/11/02\tLooms\tMakers\tOak\t10.00\t1\n2026/11/03\tLooms\tMakers\tOak\t14.00\t1\nTotal\t\t\t\t24.00\t2\n'
  const json = JSON.stringify(
    [
      { day: '2026-11-02', campaign: 'Yarn', clicks: 12, spend: { amount: '4.10', currency: 'GBP' } },
      { day: '2026-11-03', campaign: 'Yarn', clicks: 9, spend: { amount: '1.90', currency: 'GBP' } },
    ].map(({ spend, ...row }) => ({ ...row, spend: spend.amount, currency: spend.currency })),
  )
  await someone.drop(['fernlight november.tsv', Buffer.from(tabs)], ['export.json', Buffer.from(json)])
  await someone.choose(page.getByLabel('export.json'), 'report ask-weave')
  await someone.press('Take them there')
  await takeReport(page, someone, 'Fernlight', 2)
  await someone.follow('Go on with it')
  await takeReport(page, someone, 'Ask & Weave', 2)
  // 125.00 less 48.00, and 60.00.
  await agrees(page, someone, { spend: 30, claims: 2, orders: 2, value: 137 })
})

test('a shop in yen with tabs, UTF-16 and words of its own is asked what they mean, once', async ({
  page,
}) => {
  const someone = person(page)
  const head = ['注文番号', '注文日時', 'ステータス', '合計 (JPY)', '消費税']
  const rows = [
    ['J1', '2026/11/20 10:00', '出荷待ち', '12,400', '1,127'],
    ['J2', '2026/11/21 11:00', '出荷待ち', '3,300', '300'],
    ['J3', '2026/11/22 12:00', 'キャンセル', '990', '90'],
  ]
  const text = [head, ...rows].map(row => row.join('\t')).join('\n')
  const bytes = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')])
  await page.goto(app.origin)
  await someone.drop(['注文.txt', bytes])
  await someone.press('Take it there')
  await expect(page.getByText('Say what the shop means by “出荷待ち”.')).toBeVisible()
  await someone.choose(page.getByLabel('“出荷待ち”'), 'paid')
  await someone.press('Show what it changes')
  await someone.press('Count everything in JPY')
  await expect(page.getByText('rates of some days are missing')).toBeHidden()
  await takeOrders(page, someone, 3)
  await someone.follow('Aequant')
  await beginNetwork(page, someone, '織り広告')
  await beginNetwork(page, someone, 'Papernet')
  const us =
    'Date,Campaign,Ad ID,Ad,Cost,Conversions,Value\n11/20/2026,Kits,7,Oak,1200,1,12400\n11/21/2026,Kits,7,Oak,800,1,3300\n'
  const dollars = 'day|campaign|spend|currency\n2026-11-20|Paper|5.00|USD\n2026-11-21|Paper|2.00|USD\n'
  await someone.drop(['ads.csv', Buffer.from(us)], ['papernet.csv', Buffer.from(dollars)])
  await someone.choose(page.getByLabel('ads.csv'), 'report network')
  await someone.press('Take them there')
  await takeReport(page, someone, '織り広告', 2)
  await someone.follow('Go on with it')
  await someone.press('Show what it changes')
  // A network that bills in another currency: its rates are asked for in one step, for the days that need them.
  await someone.fill(page.getByLabel('1 USD is, in JPY'), '150')
  await someone.press('Keep these rates')
  await someone.press('Replace 2 days of Papernet')
  await expect(page.getByText('2 days of Papernet replaced')).toBeVisible()
  await agrees(page, someone, { spend: 2000 + 7 * 150, claims: 2, orders: 2, value: 15_700, digits: 0 })
  // The same export again is known: its words are explained, and it changes nothing.
  await page.goto(`${app.origin}/intake/shop`)
  await page
    .getByLabel('Export of the shop')
    .setInputFiles({ name: 'again.txt', mimeType: 'text/plain', buffer: bytes })
  await expect(heading(page)).toContainText('read as the shop’s last export was')
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await expect(
    page.getByText('3 orders, 20 Nov 2026 – 22 Nov 2026: 0 new, 0 changed, 3 as they are'),
  ).toBeVisible()
})

test('refunds and customers come in files of their own, and can be taken back', async ({ page }) => {
  const someone = person(page)
  await page.goto(app.origin)
  const orders =
    'Order,Date,Total (EUR),Customer\nA,2026-11-20,50.00,c1\nB,2026-11-21,80.00,ana@post.example\nC,2026-11-22,30.00,c3\n'
  await someone.drop(
    ['refunds.csv', Buffer.from('Order number,Refunded\nA,20.00\nA,5.00\nB,80.00\nX,1.00\n')],
    ['customers.csv', Buffer.from('Customer number,Email\nc1,Ana@post.example\nc3,rui@post.example\n')],
    ['orders.csv', Buffer.from(orders)],
  )
  await someone.press('Take them there')
  // Whatever comes first, each says what it changes before it does.
  for (let left = 3; left > 0; left--) {
    await someone.press('Show what it changes')
    const title = await heading(page).innerText()
    if (title.startsWith('refunds')) {
      await expect(page.getByText('orders of it are not held')).toBeVisible()
    } else if (title.startsWith('customers')) await expect(page.getByText('0 people ordered')).toBeVisible()
    else await takeOrders(page, someone, 3)
    if (left > 1) await someone.follow('Go on with it')
  }
  await someone.drop(
    ['refunds.csv', Buffer.from('Order number,Refunded\nA,20.00\nA,5.00\nB,80.00\nX,1.00\n')],
    ['customers.csv', Buffer.from('Customer number,Email\nc1,Ana@post.example\nc3,rui@post.example\n')],
  )
  await someone.press('Take them there')
  for (let left = 2; left > 0; left--) {
    await someone.press('Show what it changes')
    if ((await heading(page).innerText()).startsWith('refunds')) {
      await expect(page.getByText('What went back of 2 orders that are held: 2 change')).toBeVisible()
      await expect(page.getByText('1 orders of it are not held, X for one')).toBeVisible()
      await someone.press('Settle 2 orders')
      await expect(page.getByText('2 orders settled')).toBeVisible()
    } else {
      await expect(page.getByRole('row', { name: 'ana@post.example, c1' })).toBeVisible()
      await someone.press('Make 1 person one')
      await expect(page.getByText('1 known to be one')).toBeVisible()
    }
    if (left > 1) await someone.follow('Go on with it')
  }
  const csv = await (await page.request.get(`${app.origin}/api/export/orders`)).text()
  expect(csv).toMatch(/^A,.*partially_refunded,EUR,50.00,.*,25.00,/m)
  expect(csv).toMatch(/^B,.*,refunded,EUR,80.00,.*,80.00,/m)
  const decisions = await (await page.request.get(`${app.origin}/api/decisions`)).json()
  expect(JSON.stringify(decisions)).toContain('the same e-mail in customers.csv')
})

test('a workbook of three sheets in real, conversions of campaigns in parts, and a network that reports none', async ({
  page,
}) => {
  const someone = person(page)
  await page.goto(app.origin)
  const entry = 'https://tear.example/?utm_source=fiandeira&utm_campaign=Estação'
  const orders = [
    ['Pedido', 'Data', 'Situação', 'Total pago', 'Página de entrada'],
    ['P-1', new Date(Date.UTC(2026, 10, 24, 9, 30)), 'Pago', 'R$ 1.234,56', entry],
    ['P-2', new Date(Date.UTC(2026, 10, 25)), 'Cancelado', 50, ''],
    ['P-3', new Date(Date.UTC(2026, 10, 26)), 'Pago', 99.9, ''],
  ]
  const sheet = (own: unknown[][]) =>
    own.map(row =>
      row.map(value => ({
        value: value === '' ? undefined : value,
        ...(value instanceof Date ? { type: Date, format: 'dd/mm/yyyy hh:mm' } : {}),
      })),
    )
  const book = await writeXlsxFile([
    {
      data: sheet([
        ['Loja', 'Tear Azul'],
        ['Período', 'novembro'],
      ]),
      sheet: 'Resumo',
    },
    { data: sheet([['Pedidos de novembro', '', '', '', ''], ...orders]), sheet: 'Pedidos' },
    {
      data: sheet([
        ['Nome', 'Cidade'],
        ['Ana', 'Porto'],
      ]),
      sheet: 'Clientes',
    },
  ] as never).toBuffer()
  await someone.drop(['pedidos.xlsx', book])
  await someone.choose(page.getByLabel('pedidos.xlsx'), 'shop')
  await someone.press('Take it there')
  await expect(page.getByLabel('Sheet')).toHaveValue('Pedidos')
  await someone.press('Show what it changes')
  await someone.press('Count everything in BRL')
  await expect(page.getByText('rates of some days are missing')).toBeHidden()
  await takeOrders(page, someone, 3)
  await someone.follow('Aequant')
  await beginNetwork(page, someone, 'Fiandeira')
  await beginNetwork(page, someone, 'Lã viva')
  const written = [
    'Dia;Campanha;Investimento;Cliques;Conversões',
    '24/11/2026;Estação;60,50;12;0,50',
    '26/11/2026;Estação;19,50;8;1,25',
    'Total de 2 linhas;;80,00;20;1,75',
  ].join('\r\n')
  const plain =
    'Dia\tCampanha\tInvestimento\tCliques\n24/11/2026\tMantas\t12,50\t5\n25/11/2026\tMantas\t7,50\t3\n'
  await someone.drop(['fiandeira.csv', Buffer.from(written, 'latin1')], ['la viva.tsv', Buffer.from(plain)])
  await someone.choose(page.getByLabel('fiandeira.csv'), 'report fiandeira')
  await someone.choose(page.getByLabel('la viva.tsv'), 'report la-viva')
  await someone.press('Take them there')
  await takeReport(page, someone, 'Fiandeira', 2)
  await someone.follow('Go on with it')
  await takeReport(page, someone, 'Lã viva', 2)
  // 60.50, 19.50, 12.50 and 7.50; half a conversion and one and a quarter; 1,234.56 and 99.90, the cancelled one left out.
  await agrees(page, someone, { spend: 100, claims: 1.75, orders: 2, value: 1334.46 })
  expect(someone.steps()).toBeLessThanOrEqual(45)
})

const inBytes = (rows: readonly string[], encoding: string) => iconv.encode(rows.join('\r\n'), encoding)

test('a Polish shop: parameters alone, totals again on each item, refunds apart, a week a line with leads, and a network without conversions', async ({
  page,
}) => {
  const someone = person(page)
  await page.goto(app.origin)
  const entry = 'utm_source=brama&utm_campaign=Jesień'
  const orders = inBytes(
    [
      'Numer zamówienia;Data złożenia;Stan;Produkt;Wartość zamówienia (PLN);Parametry wejścia',
      `ZAM/101;10.11.2026 09:15;Opłacone;Krosno;1 234,50;${entry}`,
      `ZAM/101;10.11.2026 09:15;Opłacone;Przędza;1 234,50;${entry}`,
      'ZAM/102;11.11.2026 18:00;Anulowane;Przędza;40,00;',
      `ZAM/103;18.11.2026 07:30;Opłacone;Kurs;99,00;${entry}`,
      'ZAM/104;20.11.2026 12:00;Opłacone;Przędza;60,00;',
    ],
    'windows-1250',
  )
  await someone.drop(['zamowienia.csv', orders])
  await expect(page.getByLabel('zamowienia.csv')).toHaveValue('shop')
  await someone.press('Take it there')
  await expect(page.getByLabel('Parametry wejścia is')).toHaveValue('landing_url')
  await someone.press('Show what it changes')
  await someone.press('Count everything in PLN')
  await expect(page.getByText('rates of some days are missing')).toBeHidden()
  await takeOrders(page, someone, 4)
  const refunds = inBytes(['Numer zamówienia;Kwota zwrotu', 'ZAM/104;10,00'], 'windows-1250')
  await someone.drop(['zwroty.csv', refunds])
  await someone.press('Take it there')
  await expect(heading(page)).toContainText('zwroty.csv')
  await someone.press('Show what it changes')
  await someone.press('Settle 1 order')
  await expect(page.getByText('1 order settled')).toBeVisible()
  await someone.follow('Aequant')
  await beginNetwork(page, someone, 'Brama')
  await beginNetwork(page, someone, 'Mosty')
  await someone.drop(
    [
      'brama.csv',
      inBytes(
        [
          'Tydzień;Kampania;Wydatki (PLN);Kliknięcia;Zakupy;Wartość zakupów (PLN);Leady',
          '09.11.2026 - 15.11.2026;Jesień;70,35;140;1;1 234,50;6',
          '16.11.2026 - 22.11.2026;Jesień;19,65;80;1;99,00;4',
        ],
        'windows-1250',
      ),
    ],
    [
      'mosty.csv',
      inBytes(
        ['Dzień;Kampania;Koszt;Kliknięcia', '17.11.2026;Wełna;6,50 zł;5', '19.11.2026;Wełna;3,50 zł;3'],
        'windows-1250',
      ),
    ],
  )
  await someone.press('Take them there')
  await someone.press('Show what it changes')
  await expect(page.getByText('2 “purchase” worth 1,333.50 PLN, 10 “lead”')).toBeVisible()
  await expect(page.getByText('2 sums cover more than a day')).toBeVisible()
  await someone.press('Replace 14 days of Brama')
  await expect(page.getByText('14 days of Brama replaced')).toBeVisible()
  await someone.follow('Go on with it')
  await takeReport(page, someone, 'Mosty', 2)
  // 1,234.50 once, 99.00, and 60.00 less 10.00; two purchases, and no lead is an order.
  await agrees(page, someone, { spend: 100, claims: 2, orders: 3, value: 1383.5 })
  await expect(page.getByText('Brama reports up to 7 days as one sum')).toBeVisible()
  expect(someone.steps()).toBeLessThanOrEqual(45)
})

test('a French shop: its own totals line, refunds beside, conversions of campaigns in parts over two date columns', async ({
  page,
}) => {
  const someone = person(page)
  await page.goto(app.origin)
  const entry = 'https://metier.example/?utm_source=ruisseau&utm_campaign=Été indien'
  const orders = inBytes(
    [
      'N° commande;Date de création;Statut;Total TTC;Montant remboursé;Page d’arrivée',
      `C-1;10 nov. 2026 11:15;Terminée;250,00 €;0,00 €;${entry}`,
      'C-2;12 nov. 2026 08:00;Annulée;80,00 €;0,00 €;',
      `C-3;19 nov. 2026 19:45;Expédiée;120,50 €;20,50 €;${entry}`,
      'Total;;;450,50 €;20,50 €;',
    ],
    'windows-1252',
  )
  await someone.drop(['commandes.csv', orders])
  await someone.press('Take it there')
  await someone.press('Show what it changes')
  await expect(page.getByText('The file’s own totals line (line 5) says the same: 450.50 EUR.')).toBeVisible()
  await takeOrders(page, someone, 3)
  await someone.follow('Aequant')
  await beginNetwork(page, someone, 'Ruisseau')
  await beginNetwork(page, someone, 'Clairière')
  await someone.drop(
    [
      'ruisseau.csv',
      inBytes(
        [
          'Début;Fin;Campagne;Montant dépensé (EUR);Clics;Achats;Valeur des achats',
          '09/11/2026;15/11/2026;Été indien;45,00;90;1,50;300,00',
          '16/11/2026;22/11/2026;Été indien;35,00;70;0,75;60,00',
        ],
        'windows-1252',
      ),
    ],
    [
      'clairiere.csv',
      inBytes(
        [
          'Jour;Campagne;Coût;Affichages;Clics',
          '18/11/2026;Laine;12,00;1 000;5',
          '20/11/2026;Laine;8,00;900;3',
        ],
        'windows-1252',
      ),
    ],
  )
  await someone.choose(page.getByLabel('clairiere.csv'), 'report clairiere')
  await someone.press('Take them there')
  await takeReport(page, someone, 'Ruisseau', 14)
  await someone.follow('Go on with it')
  await takeReport(page, someone, 'Clairière', 2)
  // 250.00 and 100.00; one and a half conversions and three quarters of one.
  await agrees(page, someone, { spend: 100, claims: 2.25, orders: 2, value: 350 })
  expect(someone.steps()).toBeLessThanOrEqual(45)
})
