import { request as requestHttp } from 'node:http'
import { demoFor } from './application'
import { expect, test } from './test'

const app = demoFor()

const orders = async (): Promise<unknown> =>
  (await (await fetch(`${app.origin}/api/judge`)).json()).gap.orders

test('a page of another site reads nothing and changes nothing', async ({ page }) => {
  const before = await orders()
  await page.goto(app.norrfeed)
  const tried = await page.evaluate(async origin => {
    const body = 'order_id,ordered_at,status,currency,total\nEVIL,2026-11-01T10:00:00Z,paid,EUR,12345.00\n'
    const outcome = async (path: string, init: RequestInit) => {
      try {
        const answer = await fetch(origin + path, init)
        return answer.type === 'opaque' ? 'unreadable' : `read ${answer.status}`
      } catch {
        return 'refused'
      }
    }
    return [
      await outcome('/api/import/orders', { method: 'POST', body, mode: 'no-cors' }),
      await outcome('/api/import/orders', { method: 'POST', body }),
      await outcome('/api/import/orders', { method: 'POST', body, headers: { 'x-aequant': '1' } }),
      await outcome('/api/judge', {}),
      await outcome('/intake/import', {}),
    ]
  }, app.origin)
  expect(tried.filter(outcome => outcome.startsWith('read'))).toEqual([])
  // A form goes wherever it wants, and is stopped there.
  await page.evaluate(origin => {
    const form = Object.assign(document.createElement('form'), {
      action: `${origin}/intake/routes`,
      method: 'POST',
      enctype: 'multipart/form-data',
    })
    document.body.append(form)
    form.submit()
  }, app.origin)
  await expect(page.getByText('may change nothing here')).toBeVisible()
  expect(await orders()).toEqual(before)
})

test('another name for this machine is no name of ours, and no page frames us', async ({ page }) => {
  // What a name server of a stranger would do: its own name, our address.
  const renamed = app.origin.replace('localhost', 'evil.localhost')
  const answer = await page.goto(`${renamed}/intake/import`)
  expect(answer?.status()).toBe(421)
  await page.goto(app.norrfeed)
  const shown = await page.evaluate(async origin => {
    const frame = Object.assign(document.createElement('iframe'), { src: `${origin}/weigh` })
    document.body.append(frame)
    await new Promise(loaded => frame.addEventListener('load', loaded))
    return frame.contentDocument?.body.textContent ?? null
  }, app.origin)
  expect(shown).toBeNull()
})

test('a page runs no script that stands in it unasked, and is secure where it can be', async ({ page }) => {
  await page.goto(`${app.origin}/weigh`)
  const secure = await fetch(`${app.origin}/weigh`, { headers: { 'x-forwarded-proto': 'https' } })
  expect(secure.headers.get('strict-transport-security')).toContain('max-age=')
  const inline = await page.evaluate(() => {
    const script = document.createElement('script')
    script.textContent = 'window.strange = true'
    document.head.append(script)
    return 'strange' in window
  })
  expect(inline).toBe(false)
})

test('the practice ground answers whatever host it is asked for', async () => {
  const port = Number(new URL(app.norrfeed).port)
  const ask = (host: string, path = '/') =>
    new Promise<number>(done =>
      requestHttp({ host: '127.0.0.1', port, path, headers: { host } }, response => {
        response.resume()
        done(response.statusCode ?? 0)
      }).end(),
    )
  for (const host of ['[', '__proto__', 'constructor:80', '', 'shop.tarnbrook.localhost:x'])
    expect([host, (await ask(host)) >= 400]).toEqual([host, true])
  expect(await ask('../../database', '/report.csv')).toBeGreaterThanOrEqual(400)
  expect(await ask('shop.tarnbrook.localhost')).toBe(200)
})

test('whoever has the site key books no order, and what they make up is left out until somebody decides', async ({
  page,
}) => {
  test.setTimeout(240_000)
  const judged = async () =>
    (await (await fetch(`${app.origin}/api/judge`)).json()) as {
      gap: { orders: number; orders_value: number }
    }
  const before = (await judged()).gap
  const [site] = /[?&]site=([\w-]+)/.exec(await (await fetch(`${app.origin}/api/hand-off`)).text())!.slice(1)
  const { rules } = await (await fetch(`${app.collector}/r/${site}`)).json()
  const booklet = rules.find((rule: { result: string }) => rule.result === 'booklet')
  const headers = { 'user-agent': await page.evaluate(() => navigator.userAgent.replace('Headless', '')) }
  const forge = async (events: object[]) => {
    const body = JSON.stringify(
      events.map((event, i) => ({
        site,
        id: `forged-${Date.now()}-${Math.random()}-${i}`,
        value: '99999.00',
        currency: 'EUR',
        ...event,
      })),
    )
    expect((await fetch(`${app.collector}/e`, { method: 'POST', headers, body })).status).toBe(204)
  }
  const many = (event: object) => Array.from({ length: 62 }, () => event)
  await forge(many({ name: 'order', rule: 'nobody-wrote-it' }))
  await forge(
    many({ name: 'booklet', rule: booklet.id, page: 'https://tarnbrook.example/booklet', visitor: 'nobody' }),
  )
  const left = page.getByRole('region', { name: 'Left out of the figures' })
  await expect(async () => {
    await page.goto(`${app.origin}/intake/set-aside`)
    await expect(left.getByText(/62 × .*booklet/)).toBeVisible({ timeout: 2000 })
  }).toPass({ timeout: 150_000 })
  await expect(left.getByText('They name a rule that does not exist.')).toBeVisible()
  expect((await judged()).gap).toMatchObject({ orders: before.orders, orders_value: before.orders_value })
  while (await left.getByRole('button', { name: /^Leave .* out$/ }).count()) {
    const button = left.getByRole('button', { name: /^Leave .* out$/ }).first()
    const waiting = await left.getByRole('button', { name: /^Leave .* out$/ }).count()
    await button.click()
    await expect(left.getByRole('button', { name: /^Leave .* out$/ })).toHaveCount(waiting - 1)
  }
  await expect(left.getByText('62 left out.')).toBeVisible()
  expect((await judged()).gap.orders).toBe(before.orders)
})
