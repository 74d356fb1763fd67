import { execFile } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Papa from 'papaparse'
import { beforeAll, describe, expect, it } from 'vitest'

const folder = mkdtempSync(join(tmpdir(), 'aequant-cli-'))
const market = join(folder, 'market')

/** Runs the command line as its users do. */
const aequant = (...args: string[]) =>
  new Promise<{ code: number; out: string; err: string }>(done => {
    execFile(
      'node',
      ['scripts/aequant.mjs', 'aequant', ...args],
      { maxBuffer: 1e8, env: { ...process.env, AEQUANT_DATA: join(folder, 'data') } },
      (error, out, err) => done({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
    )
  })
const file = (name: string, text: string) => {
  writeFileSync(join(folder, name), text)
  return join(folder, name)
}

beforeAll(async () => {
  expect(
    (await aequant('market', '--seed', '4', '--days', '20', '--scale', '0.3', '--out', market)).code,
  ).toBe(0)
})

describe('judge', () => {
  it('reads a large file of clicks in threads to the very same judgement and rejects', async () => {
    const large = join(folder, 'large')
    cpSync(market, large, { recursive: true })
    const clicks = readFileSync(join(market, 'clicks.csv'), 'utf8').trim().split('\n')
    const [header = '', ...rows] = clicks
    // Others' clicks: under IDs and by visitors that no order names.
    const more = Array.from({ length: 12 }, (_, copy) =>
      rows.map(row => row.replace(/^[^,]+/, id => `${id}-${copy}`).replace(/,v(\w+)/, `,w$1-${copy}`)),
    ).flat()
    const bad = `${rows[0]!.split(',').length},too,few`
    const whole = [header, ...more.slice(0, 9), bad, ...more.slice(9), ...rows.reverse(), bad].join('\n')
    expect(whole.length).toBeGreaterThan(9_000_000)
    const judged = async (text: string) => {
      writeFileSync(join(large, 'clicks.csv'), text)
      const { out, err } = await aequant('judge', '--dir', large, '--level', 'ad', '--json')
      return { out, err, rejects: readFileSync(join(large, 'rejects.csv'), 'utf8') }
    }
    const inThreads = await judged(whole)
    // A quotation mark may hold a line break: such a file is read as a whole.
    const atOnce = await judged(whole.replace(/\n([^,]+),/, '\n"$1",'))
    expect(inThreads).toEqual(atOnce)
    expect(inThreads.rejects.trim().split('\n')).toHaveLength(3)
    expect(inThreads.rejects).toContain(`clicks.csv,${whole.split('\n').length},`)
    expect(JSON.parse(inThreads.out).totals.proven).toBeGreaterThan(0)
  })

  it('keeps spend, orders, claims and the gap’s identity, at every level', async () => {
    const cells = (name: string, column: string) =>
      Papa.parse<Record<string, string>>(readFileSync(join(market, name), 'utf8').trim(), {
        header: true,
      }).data.map(row => row[column])
    for (const level of ['campaign', 'ad_set', 'ad']) {
      const { code, out } = await aequant('judge', '--dir', market, '--level', level, '--json')
      const report = JSON.parse(out)
      const cents = (x: number) => Math.round(x * 100)
      expect(code).toBe(0)
      // What is found about a name says whose name it is.
      for (const { code, at } of report.findings)
        if (code === 'reserved_character_in_name')
          expect(at).toEqual({
            part: 'name',
            level: expect.stringMatching(/^ad/),
            id: expect.stringMatching(/^.[as]\d+$/),
          })
      expect(report.findings.length).toBeGreaterThan(0)
      expect(cents(report.totals.spend)).toBe(
        cells('delivery.csv', 'spend').reduce((s, x) => s + cents(Number(x)), 0),
      )
      expect(report.rows.reduce((s: number, r: { spend: number }) => s + cents(r.spend), 0)).toBe(
        cents(report.totals.spend),
      )
      expect(report.gap.claims).toBe(cells('claim-rows.csv', 'kind').length)
      expect(report.gap.orders).toBe(
        cells('orders.csv', 'status').filter(s => s === 'paid' || s === 'partially_refunded').length,
      )
    }
  })
  it('judges a part of the time alone', async () => {
    const { out } = await aequant(
      'judge',
      '--dir',
      market,
      '--from',
      '2026-11-10',
      '--to',
      '2026-11-12',
      '--json',
    )
    expect(JSON.parse(out).totals.spend).toBeGreaterThan(0)
    expect((await aequant('judge', '--dir', market, '--from', '2026-11-12', '--to', '2026-11-10')).code).toBe(
      2,
    )
  })
  it('judges another result by its own records and rules', async () => {
    const dir = mkdtempSync(join(folder, 'results-'))
    const write = (name: string, ...lines: string[]) =>
      writeFileSync(join(dir, name), `${lines.join('\n')}\n`)
    write(
      'delivery.csv',
      'date,network,campaign_id,ad_id,currency,spend,clicks',
      '2026-11-01,kelpie,c1,a1,EUR,60.00,30',
    )
    write(
      'clicks.csv',
      'click_id,clicked_at,network,campaign_id,ad_id',
      'k1,2026-11-01T08:00:00Z,kelpie,c1,a1',
    )
    write(
      'orders.csv',
      'order_id,ordered_at,status,currency,total,click_id,result',
      'o1,2026-11-01T10:00:00Z,paid,EUR,80.00,k1,',
      's1,2026-11-01T11:00:00Z,paid,EUR,0.00,k1,signup',
      's2,2026-11-01T12:00:00Z,paid,EUR,0.00,,signup',
      's3,2026-11-01T12:30:00Z,test,EUR,0.00,,signup',
    )
    write(
      'claims.csv',
      'date,network,ad_id,conversion,click_through,value,currency',
      '2026-11-01,kelpie,a1,purchase,1,80.00,EUR',
      '2026-11-01,kelpie,a1,joined,1,,',
    )
    write(
      'settings.json',
      JSON.stringify({
        currency: 'EUR',
        results: [
          {
            id: 'signup',
            name: 'Sign-up',
            kind: 'sign_up',
            currency: 'EUR',
            value: { by: 'fixed', amount: 400 },
            count: 'every',
            slots: { kelpie: 'joined' },
          },
        ],
      }),
    )
    const judged = async (...more: string[]) =>
      JSON.parse((await aequant('judge', '--dir', dir, '--json', ...more)).out)
    const signups = await judged('--result', 'signup')
    expect(signups.gap).toMatchObject({ orders: 2, orders_value: 8, claims: 1 })
    expect(signups.totals).toMatchObject({ spend: 60, proven: 1, claimed: 1, revenue: { tracked: 4 } })
    expect(signups.findings).toContainEqual({
      code: 'other_result',
      severity: 'hint',
      at: { result: 'order', count: 1 },
    })
    const orders = await judged()
    expect(orders.gap).toMatchObject({ orders: 1, orders_value: 80, claims: 1 })
    expect(await judged('--result', 'order')).toEqual(orders)
    expect(await aequant('judge', '--dir', dir, '--result', 'call')).toMatchObject({
      code: 2,
      err: expect.stringMatching(/no result "call".*order, signup/s),
    })
  })
  it('compares two periods, of all or of a part, and says what is tracking', async () => {
    const periods = ['--first', '2026-10-27..2026-11-05', '--second', '2026-11-06..2026-11-15']
    const { code, out } = await aequant(
      'compare',
      '--dir',
      market,
      ...periods,
      '--network',
      'kelpie',
      '--json',
    )
    expect(code).toBe(0)
    const { first, second, log_change, parts, sentence } = JSON.parse(out)
    expect(first).toMatchObject({ from: '2026-10-27', to: '2026-11-05' })
    expect(log_change).toBeCloseTo(Math.log(second.cost_per_claim / first.cost_per_claim), 3)
    expect(
      Math.abs(parts.reduce((sum: number, { log }: { log: number }) => sum + log, 0) - log_change),
    ).toBeLessThan(1e-9)
    expect(sentence).toMatch(/claimed result.*real cost/)
    const [campaign] = JSON.parse((await aequant('judge', '--dir', market, '--json')).out).rows
    const part = await aequant('compare', '--dir', market, ...periods, '--campaign', campaign.id)
    expect(part).toMatchObject({ code: 0, out: expect.stringMatching(/attention.*\n.*appeal/) })
    for (const wrong of [
      ['--network', 'nobody'],
      ['--campaign', 'nothing'],
      ['--result', 'none'],
      ['--first', '2026-11-05..2026-10-27'],
    ])
      expect((await aequant('compare', '--dir', market, ...periods, ...wrong)).code).toBe(2)
  })
  it('ends with 2 and a clear word on bad input', async () => {
    expect(await aequant('judge', '--dir', join(folder, 'nowhere'))).toMatchObject({
      code: 2,
      err: expect.stringContaining('There is no'),
    })
    expect((await aequant('judge')).code).toBe(2)
    expect((await aequant('judge', '--help')).code).toBe(0)
    // A date is shown as one, wherever it stands.
    expect((await aequant('market', '--help')).out).toMatch(/last day \(default: \d{4}-\d\d-\d\d\)/)
  })
})

describe('link', () => {
  it('gives the contract’s fields', async () => {
    const spec = {
      profile: 'norrfeed',
      destination: 'https://tarnbrook.example/kits?lang=pt#looms',
      plan: {
        account: { utm_source: 'norrfeed', utm_campaign: '{campaign.name}' },
        ad: { utm_content: '{ad.name}' },
      },
      sample: { campaign: { id: '1', name: 'Autumn kits' }, ad: { id: '2', name: 'Oak & wool' } },
    }
    const { code, out } = await aequant('link', '--spec', file('spec.json', JSON.stringify(spec)), '--json')
    expect(code).toBe(0)
    expect(Object.keys(JSON.parse(out)).sort()).toEqual([
      'address',
      'fields',
      'findings',
      'origin',
      'preview',
    ])
    expect(JSON.parse(out).preview).toBe(
      'https://tarnbrook.example/kits?lang=pt&utm_source=norrfeed&utm_campaign=Autumn%20kits&utm_content=Oak%20%26%20wool#looms',
    )
  })
  it('says where a spec is wrong', async () => {
    const wrong = { profile: { id: 'Bad Id', name: 'x', dialect: {} }, destination: 'https://a.example' }
    expect(await aequant('link', '--spec', file('wrong.json', JSON.stringify(wrong)))).toMatchObject({
      code: 2,
      err: expect.stringContaining('cannot be used'),
    })
    expect(
      await aequant(
        'link',
        '--spec',
        file('none.json', '{"profile":"nobody","destination":"https://a.example"}'),
      ),
    ).toMatchObject({ code: 2, err: expect.stringContaining('nobody') })
    expect(await aequant('link', '--spec', file('broken.json', '{'))).toMatchObject({
      code: 2,
      err: expect.stringContaining('not JSON'),
    })
  })
})

it('imports a folder, exports it again, and judges the export alike', async () => {
  expect((await aequant('import', '--dir', market, '--json')).code).toBe(0)
  const again = await aequant('import', '--dir', market, '--json')
  expect(Object.values(JSON.parse(again.out)).every(c => (c as { accepted: number }).accepted === 0)).toBe(
    true,
  )
  const out = join(folder, 'out')
  expect((await aequant('export', '--dir', out)).code).toBe(0)
  const judged = async (dir: string) =>
    JSON.parse((await aequant('judge', '--dir', dir, '--level', 'ad', '--json')).out)
  const [before, after] = [await judged(market), await judged(out)]
  expect(after.totals).toEqual(before.totals)
  expect(after.gap).toEqual(before.gap)
})

describe('check-page', () => {
  const code = {
    base: "<script src=\"https://tags.norrfeed.example/t.js\"></script><script>nf('start','{account}')</script>",
    event: "nf('event','{event}',{value:{value}})",
  }
  const on = { any: [{ by: 'equals', text: '/thanks' }] }
  const events = [{ name: 'purchase', on, needs: ['value'] }]
  const tags = [{ network: 'norrfeed', account: 'nf-1', code, events }]
  const spec = file('page.json', JSON.stringify({ page: 'https://tarnbrook.example/thanks', tags }))
  it('names what is wrong with its line, and is done all the same', async () => {
    const html = file(
      'page.html',
      "<html><head>\n<script>nf('start','nf-2')</script>\n</head><body></body></html>",
    )
    const { code, out } = await aequant('check-page', '--spec', spec, '--html', html, '--json')
    expect(code).toBe(0)
    expect(JSON.parse(out).findings.map((f: { code: string; at: object }) => [f.code, f.at])).toEqual([
      ['wrong_account', { line: 2 }],
      ['event_missing', { page: 'https://tarnbrook.example/thanks' }],
    ])
  })
  it('refuses a recording that is none, and a check of nothing', async () => {
    const notHar = file('visit.har', '{"log":{}}')
    expect((await aequant('check-page', '--spec', spec, '--har', notHar)).code).toBe(2)
    expect((await aequant('check-page', '--spec', spec)).code).toBe(2)
  })
})
