import { expect, type Page, test } from '@playwright/test'
import writeXlsxFile from 'write-excel-file/node'
import { type Application, startApplication } from './application'

let app: Application
test.beforeEach(async () => {
  test.setTimeout(180_000)
  app = await startApplication('start', 5400)
})
test.afterEach(() => app?.stop())

const drop = async (page: Page, name: string, buffer: Buffer) => {
  await page.goto(`${app.origin}/intake/import`)
  await page.getByLabel('CSV files').setInputFiles({ name, mimeType: 'application/octet-stream', buffer })
  await page.getByRole('button', { name: 'the shop’s own export' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText(
    `${name}: this is how it seems to be meant`,
  )
}
const take = async (page: Page, orders: number) => {
  await page.getByRole('button', { name: 'Take in' }).click()
  await expect(
    page.getByRole('status').filter({ hasText: `${orders} orders in, 0 lines rejected` }),
  ).toBeVisible()
  await page.getByRole('link', { name: 'See what it changes' }).click()
}
/** What the shop booked, as Reconcile says it. */
const booked = (page: Page) => page.getByText(/^The shop booked/).locator('..')

test('from nothing to a number: a shop in euro with semicolons, commas and a line an item, and a report', async ({
  page,
}) => {
  const heading = page.getByRole('heading', { level: 1 })
  await page.goto(app.origin)
  await expect(heading).toContainText('Begin with the shop')
  await page.getByRole('button', { name: 'Say it' }).click()
  await page.getByLabel('Name of the shop').fill('Webstube')
  await page.getByLabel('Margin of an order').fill('45')
  await page.getByLabel('Margin of an order').press('Control+Enter')
  await expect(page.getByText('It is said.')).toBeVisible()
  await expect(page.getByText('Webstube')).toBeVisible()
  await expect(page.getByRole('link', { name: 'Drop the shop’s export' })).toBeVisible()
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
  await drop(page, 'Bestellungen.csv', Buffer.from([head, ...items].map(row => row.join(';')).join('\r\n')))
  await expect(page.getByLabel('A line’s amounts are of')).toHaveValue('line')
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await expect(page.getByText('2 counts; 1 cancelled or not paid: does not count.')).toBeVisible()
  await take(page, 3)
  // 1,234.50 + 15.50 + 5.90 once, and 99.00; the cancelled one does not count.
  await expect(booked(page)).toContainText('2 · 1,354.90 EUR')
  await page.getByRole('link', { name: 'Aequant' }).click()
  await expect(heading).toContainText('With what the networks spent there is a first number')
  await page.getByRole('link', { name: 'Drop a network’s report' }).click()
  await page.getByLabel('Network', { exact: true }).selectOption('norrfeed')
  await page.getByLabel('Report', { exact: true }).setInputFiles({
    name: 'ads.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'Day,Campaign,Ad,Cost (EUR),Purchases,Purchase value\n2026-11-24,Autumn,Oak,60.50,1,1255.90\n2026-11-26,Autumn,Oak,19.50,1,99.00\n',
    ),
  })
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await page.getByRole('button', { name: 'Replace 2 days of Norrfeed' }).click()
  await expect(page.getByText('2 days of Norrfeed replaced')).toBeVisible()
  await page.getByRole('link', { name: 'Aequant' }).click()
  await expect(heading).toContainText(
    /One order cost [34]\d\.\d\d EUR in the last 28 days: 80\.00 EUR for an estimated 2\.\d orders/,
  )
  await expect(page.getByText('Norrfeed, up to 26 Nov 2026.')).toBeVisible()
})

test('a workbook in pounds, net and tax apart, with what went back below nothing', async ({ page }) => {
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
  await drop(page, 'orders.xlsx', book)
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  // A shop in another currency than the workspace's is asked, not refused.
  await page.getByRole('button', { name: 'Count everything in GBP' }).click()
  await expect(page.getByText('Orders in GBP could be in no sum')).toBeHidden()
  await take(page, 2)
  // 125.00 less 48.00, and 60.00.
  await expect(booked(page)).toContainText('2 · 137.00 GBP')
})

test('a shop in yen with tabs, UTF-16 and words of its own is asked what they mean, once', async ({
  page,
}) => {
  const head = ['注文番号', '注文日時', 'ステータス', '合計 (JPY)', '消費税']
  const rows = [
    ['J1', '2026/11/20 10:00', '出荷待ち', '12,400', '1,127'],
    ['J2', '2026/11/21 11:00', '出荷待ち', '3,300', '300'],
    ['J3', '2026/11/22 12:00', 'キャンセル', '990', '90'],
  ]
  const text = [head, ...rows].map(row => row.join('\t')).join('\n')
  await drop(page, '注文.txt', Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')]))
  await expect(page.getByText('Say what the shop means by “出荷待ち”.')).toBeVisible()
  await page.getByLabel('“出荷待ち”').selectOption('paid')
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await page.getByRole('button', { name: 'Count everything in JPY' }).click()
  await expect(page.getByText('Orders in JPY could be in no sum')).toBeHidden()
  await take(page, 3)
  await expect(booked(page)).toContainText('2 · 15,700 JPY')
  // The same export again is known: its words are explained, and it changes nothing.
  await page.goto(`${app.origin}/intake/shop`)
  await page.getByLabel('Export of the shop').setInputFiles({
    name: 'again.txt',
    mimeType: 'text/plain',
    buffer: Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')]),
  })
  await expect(page.getByRole('heading', { level: 1 })).toContainText('read as the shop’s last export was')
  await page.getByRole('button', { name: 'Show what it changes' }).click()
  await expect(
    page.getByText('3 orders, 20 Nov 2026 – 22 Nov 2026: 0 new, 0 changed, 3 as they are'),
  ).toBeVisible()
})
