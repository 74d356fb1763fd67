import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { join } from 'node:path'
import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { routingSchema } from '@/core/intake/routing'
import { type Parameters, scopeKey } from '@/core/links/change'
import { profileSchema } from '@/core/links/profile'
import type { Database } from '@/data/connect'
import { findAd } from '@/data/entities'
import { loadClicks } from '@/data/loadRecords'
import { listLinkHistory, listSavedLinks } from '@/data/savedLinks'
import { delivery } from '@/data/schema'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, listPlans, listPlanVersions, type Workspace } from '@/data/workspace'
import { importFile } from '../import/importFile'
import { gatherArrivals } from './arrivals'
import { addAd, changeLinks, type NewAd } from './changes'
import { linksCsv } from './exportLinks'
import { bringLinkBack, keepLink, type LinkForm } from './library'
import { keepProfile } from './profiles'
import { type StationData, stationText } from './station'
import { tryLink } from './tryLink'
import { joinChosen } from './unknownValues'

const now = Date.parse('2026-11-01T10:00:00Z')
let database: Database
let workspace: Workspace
let stop: () => Promise<void>
let folder: string
const routing = () => routingSchema.parse(JSON.parse(readFileSync(join(folder, 'routing.json'), 'utf8')))

beforeAll(async () => {
  ;({ database, folder, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const form: LinkForm = {
  of: null,
  title: 'October newsletter, top',
  campaign: 'October newsletter',
  ad: 'top',
  network: 'placements',
  made_for: '',
  note: '',
  destination: 'https://tarnbrook.example/kits',
  parameters: { utm_source: 'newsletter' },
  archived: false,
  cost: { amount: 1001, currency: 'EUR', from: '2026-10-01', to: '2026-10-02' },
}
const undoLink = async (code: string, at: number) => {
  const [last] = await listLinkHistory(database, workspace.id, code)
  return bringLinkBack(database, workspace, code, last?.at ?? 0, at)
}
const landing = (code: string) => routing().codes[code]?.landings[0]?.address

describe('the library', () => {
  it('leads on by code at once, and elsewhere after a change, with what was before kept', async () => {
    expect(await keepLink(database, workspace, 'oct', null, form, now)).toBeNull()
    expect(landing('oct')).toBe('https://tarnbrook.example/kits?utm_source=newsletter')
    const changed = { ...form, destination: 'https://tarnbrook.example/yarn' }
    expect(await keepLink(database, workspace, 'oct', 'oct', changed, now + 1)).toBeNull()
    expect(landing('oct')).toBe('https://tarnbrook.example/yarn?utm_source=newsletter')
    expect(await undoLink('oct', now + 2)).toBeNull()
    expect(landing('oct')).toBe('https://tarnbrook.example/kits?utm_source=newsletter')
  })
  it('keeps each of several changes of one instant, and brings back whichever is wanted', async () => {
    const leads = (page: string) => ({ ...form, destination: `https://tarnbrook.example/${page}` })
    for (const page of ['a', 'b', 'c'])
      expect(await keepLink(database, workspace, 'oct', 'oct', leads(page), now + 2)).toBeNull()
    expect(landing('oct')).toContain('/c?')
    const held = await listLinkHistory(database, workspace.id, 'oct')
    for (const page of ['a', 'b', 'kits', 'c']) {
      const { at } = held.find(h => h.link.destination.endsWith(`/${page}`)) ?? { at: 0 }
      const problem = await bringLinkBack(database, workspace, 'oct', at, now + 2)
      expect([page, problem === null]).toEqual([page, page !== 'c'])
      if (problem === null) expect(landing('oct')).toContain(`/${page}?`)
    }
  })
  it('keeps a former code leading on when the code is changed', async () => {
    expect(await keepLink(database, workspace, 'news', 'oct', form, now + 3)).toBeNull()
    expect(landing('oct')).toBe(landing('news'))
    const saved = await listSavedLinks(database, workspace.id)
    expect(saved.map(s => [s.code, s.link.former_codes])).toEqual([['news', ['oct']]])
  })
  it('shares a cost out over its days, once however often it is kept', async () => {
    const spent = await database.select().from(delivery).where(eq(delivery.network, 'placements'))
    expect(spent.map(d => [d.day, d.spend]).sort()).toEqual([
      ['2026-10-01', 501],
      ['2026-10-02', 500],
    ])
  })
  it('refuses what cannot be kept, and says why', async () => {
    const refused = (code: string, part: Partial<LinkForm>) =>
      keepLink(database, workspace, code, null, { ...form, ...part }, now)
    expect(await refused('oct', {})).toMatch(/taken/)
    expect(await refused('a/b', {})).toMatch(/letters, digits/)
    expect(await refused('x1', { destination: 'javascript:alert(1)' })).toMatch(/https/)
    expect(await refused('x2', { title: ' ' })).toMatch(/title/)
    expect(Object.keys(routing().codes).sort()).toEqual(['news', 'oct'])
  })
})

const add = (given: Partial<NewAd>) =>
  addAd(
    database,
    workspace,
    {
      network: 'kelpie',
      campaign: { id: 'c1', name: 'Looms' },
      ad_set: { id: 's1', name: 'Small looms' },
      ad: { id: 'a9', name: 'Nine' },
      landing_page: '',
      ...given,
    },
    now,
  )

describe('a new ad', () => {
  it('stands under its campaign and ad set, and its landing page has a code at once', async () => {
    expect(await add({ landing_page: ' https://tarnbrook.example/nine ' })).toBeNull()
    expect(await findAd(database, workspace.id, 'kelpie', 'a9')).toEqual({
      network: 'kelpie',
      campaign: { id: 'c1', name: 'Looms' },
      ad_set: { id: 's1', name: 'Small looms' },
      ad: { id: 'a9', name: 'Nine' },
      landingPage: 'https://tarnbrook.example/nine',
    })
    const led = Object.values(routing().codes).flatMap(code => code.landings.map(l => l.address))
    expect(led).toContain('https://tarnbrook.example/nine')
  })
  it('without an ID gets it from the report that brings one of its name and place, with its plan and clicks', async () => {
    const ids = { campaign: 'new-campaign', ad_set: 'new-set', ad: 'new-ad' }
    const given = {
      network: 'mothwire',
      campaign: { id: ids.campaign, name: 'Spring' },
      ad_set: { id: ids.ad_set, name: 'Makers' },
      ad: { id: ids.ad, name: 'Ash and thread' },
      landing_page: 'https://tarnbrook.example/ash',
    }
    expect(await add(given)).toBeNull()
    const at = { what: 'plan' as const, network: 'mothwire', level: 'ad' as const, scope: ids.ad }
    await changeLinks(database, workspace.id, [{ ...at, before: {}, after: { creative: 'ash' } }])
    await importFile(
      database,
      workspace,
      'clicks',
      `click_id,clicked_at,network,campaign_id,ad_set_id,ad_id\nkn,2026-10-01T09:00:00Z,mothwire,${ids.campaign},${ids.ad_set},${ids.ad}\n`,
    )
    const report = (rows: string[]) =>
      importFile(
        database,
        workspace,
        'delivery',
        `date,network,campaign_id,campaign_name,ad_set_id,ad_set_name,ad_id,ad_name,currency,spend\n${rows.join('\n')}\n`,
      )
    await report(['2026-10-01,mothwire,k7,Spring,k71,Makers,k711,Ash and thread,EUR,1.00'])
    expect(await findAd(database, workspace.id, 'mothwire', ids.ad)).toBeNull()
    expect(await findAd(database, workspace.id, 'mothwire', 'k711')).toMatchObject({
      campaign: { id: 'k7' },
      ad_set: { id: 'k71' },
      landingPage: 'https://tarnbrook.example/ash',
    })
    const plans = await listPlanVersions(database, workspace.id)
    expect(
      plans.filter(plan => plan.level === 'ad').map(plan => [plan.scope, plan.parameters]),
    ).toContainEqual(['k711', { creative: 'ash' }])
    const clicked = await loadClicks(database, workspace.id)
    expect(clicked.find(click => click.click_id === 'kn')).toMatchObject({
      campaign_id: 'k7',
      ad_set_id: 'k71',
      ad_id: 'k711',
    })
  })
  it('without an ID is asked about where a report names two of its name and place', async () => {
    const given = {
      network: 'mothwire',
      campaign: { id: 'k9', name: 'Winter' },
      ad_set: { id: 'k91', name: 'Weavers' },
      ad: { id: 'new-twin', name: 'Twin' },
      landing_page: 'https://tarnbrook.example/twin',
    }
    expect(await add(given)).toBeNull()
    await importFile(
      database,
      workspace,
      'delivery',
      `date,network,campaign_id,campaign_name,ad_set_id,ad_set_name,ad_id,ad_name,currency,spend\n${[
        'k911',
        'k912',
      ]
        .map(id => `2026-10-01,mothwire,k9,Winter,k91,Weavers,${id},Twin,EUR,1.00`)
        .join('\n')}\n`,
    )
    const undecided = async () => (await gatherArrivals(database, workspace.id, Date.now())).undecided
    expect(await undecided()).toEqual([
      {
        network: 'mothwire',
        level: 'ad',
        id: 'new-twin',
        name: 'Twin',
        fits: ['k911', 'k912'].map(id => ({ id, campaign: 'Winter', adSet: 'Weavers' })),
      },
    ])
    const chosen = { network: 'mothwire', level: 'ad' as const, id: 'new-twin' }
    expect(await joinChosen(database, workspace.id, { ...chosen, real: 'k711' })).toContain('no longer names')
    expect(await joinChosen(database, workspace.id, { ...chosen, real: 'k912' })).toBeNull()
    expect(await undecided()).toEqual([])
    expect(await findAd(database, workspace.id, 'mothwire', 'new-twin')).toBeNull()
    expect(await findAd(database, workspace.id, 'mothwire', 'k912')).toMatchObject({
      landingPage: 'https://tarnbrook.example/twin',
    })
    expect(await findAd(database, workspace.id, 'mothwire', 'k911')).toMatchObject({ landingPage: null })
  })
  it('is refused without a name or ID, and where the ID is another ad’s', async () => {
    expect(await add({ ad: { id: ' ', name: '' } })).toBe('write the ad’s ID\nname the ad')
    expect(await add({ ad: { id: 'a9', name: 'Another' } })).toMatch(/an ad a9 already: Nine/)
    const renaming = { ad: { id: 'a8', name: 'Eight' }, campaign: { id: 'c1', name: 'Yarn' } }
    expect(await add(renaming)).toMatch(/c1 is the campaign Looms/)
    expect((await findAd(database, workspace.id, 'kelpie', 'a9'))?.campaign.name).toBe('Looms')
  })
  it('needs only the levels that its network has', async () => {
    const bid = { network: 'parkfold', ad: { id: 'b1', name: 'Weaving names' }, landing_page: '' }
    const campaign = { id: 'p1', name: 'Domains' }
    expect(await addAd(database, workspace, { ...bid, campaign }, now)).toBeNull()
    expect(await findAd(database, workspace.id, 'parkfold', 'b1')).toMatchObject({
      campaign,
      ad_set: campaign,
    })
  })
})

describe('changes of the plan', () => {
  it('are stored in the order of the address, undone to nothing, and stand in the file for upload', async () => {
    await add({ ad: { id: 'a1', name: 'Table, "new"' }, landing_page: 'https://tarnbrook.example/old' })
    const at = { network: 'kelpie', level: 'account' as const, scope: '' }
    const after = { z: '{keyword}', a: 'x' }
    await changeLinks(database, workspace.id, [
      { what: 'plan', ...at, before: {}, after },
      {
        what: 'ad',
        network: 'kelpie',
        ad: 'a1',
        before: { landingPage: 'https://tarnbrook.example/old', straight: false },
        after: { landingPage: 'https://tarnbrook.example/', straight: true },
      },
    ])
    const stored = (await listPlans(database, workspace.id)).find(plan => plan.network === 'kelpie')
    expect([scopeKey(stored!), Object.keys(stored!.parameters)]).toEqual([scopeKey(at), ['z', 'a']])
    const csv = await linksCsv(database, workspace, { ads: new Set(['kelpie/a1']), networks: new Set() })
    expect(csv).toContain(
      'kelpie,c1,Looms,s1,Small looms,a1,"Table, ""new""",https://tarnbrook.example/,z=%kw%&a=x',
    )
    await changeLinks(database, workspace.id, [{ what: 'plan', ...at, before: after, after: {} }])
    expect((await listPlans(database, workspace.id)).filter(plan => plan.network === 'kelpie')).toEqual([])
  })
})

describe('a link of the library that is an ad’s', () => {
  const of = {
    network: 'kelpie',
    campaign: { id: 'c1', name: 'Looms' },
    ad_set: { id: 's1', name: 'Small looms' },
    ad: { id: 'a9', name: 'Nine' },
  }
  const own = {
    ...form,
    of,
    network: 'kelpie',
    title: 'Nine',
    campaign: 'Looms',
    ad: 'Nine',
    cost: null,
    parameters: {},
  }
  const station = async (): Promise<StationData> => JSON.parse(await stationText(database, workspace))
  const keep = (code: string, known: string | null, part: Partial<LinkForm> = {}) =>
    keepLink(database, workspace, code, known, { ...own, ...part }, now)

  it('is the address that the ad has from then on, and leads where the link says', async () => {
    expect((await station()).saved['kelpie/a9']).toBeUndefined()
    expect(await keep('nine', null)).toBeNull()
    expect((await station()).saved['kelpie/a9']).toMatch(/\/c\/nine$/)
    expect(routing().codes.nine).toMatchObject({ network: 'kelpie' })
    expect(landing('nine')).toBe('https://tarnbrook.example/kits')
  })
  it('brings no cost and no placement of its own', async () => {
    expect((await database.select().from(delivery).where(eq(delivery.network, 'kelpie'))).length).toBe(0)
    expect((await findAd(database, workspace.id, 'kelpie', 'a9'))?.ad_set).toEqual(of.ad_set)
  })
  it('goes on leading when it is put away, and the ad has the usual address again', async () => {
    expect(await keep('nine', 'nine', { archived: true })).toBeNull()
    expect(landing('nine')).toBe('https://tarnbrook.example/kits')
    expect((await station()).saved['kelpie/a9']).toBeUndefined()
    expect(await undoLink('nine', now + 1)).toBeNull()
    expect((await station()).saved['kelpie/a9']).toMatch(/\/c\/nine$/)
  })
  it('cannot be changed under a code that is none, nor undone before it was changed', async () => {
    expect(await keep('nine', 'nobody')).toMatch(/no saved link nobody/)
    expect(await keep('ten', null, { title: 'Ten' })).toBeNull()
    expect(await undoLink('ten', now)).toMatch(/does not hold/)
  })
})

describe('what the station is sent', () => {
  it('leaves placements of our own to the library, and names what a landing page is tracked by', async () => {
    const data: StationData = JSON.parse(await stationText(database, workspace))
    expect(data.entities.map(([network]) => network)).not.toContain('placements')
    expect(data.profiles.map(p => p.id)).not.toContain('placements')
    const code = data.tracked.kelpie?.['https://tarnbrook.example/nine']?.split('/').at(-1)
    expect(landing(code ?? '')).toBe('https://tarnbrook.example/nine')
    expect(data.keys).toEqual({ campaign_key: 'utm_campaign', ad_set_key: 'utm_term', ad_key: 'utm_content' })
  })
})

describe('two screens on the same plan', () => {
  it('keep what the other changed, and are told that there was another', async () => {
    const at = { what: 'plan' as const, network: 'whyfold', level: 'campaign' as const, scope: 'c1' }
    const change = (before: Parameters, after: Parameters) =>
      changeLinks(database, workspace.id, [{ ...at, before, after }])
    expect(await change({}, { a: '1', b: '2' })).toEqual([])
    expect(await change({ a: '1', b: '2' }, { a: '9', b: '2' })).toEqual([])
    // The other screen still shows what the first change made.
    expect(await change({ a: '1', b: '2' }, { a: '1', c: '3' })).toEqual([
      { ...at, key: 'a', theirs: '9', replaced: false },
    ])
    const stored = (await listPlans(database, workspace.id)).find(p => p.network === 'whyfold')
    expect(stored?.parameters).toEqual({ a: '9', c: '3' })
  })
  it('keep where the other leads an ad, and all of it or nothing', async () => {
    const ad = { what: 'ad' as const, network: 'kelpie', ad: 'a9' }
    const before = { landingPage: 'https://tarnbrook.example/elsewhere', straight: false }
    expect(
      await changeLinks(database, workspace.id, [{ ...ad, before, after: { ...before, straight: true } }]),
    ).toMatchObject([{ what: 'ad', ad: 'a9' }])
    expect((await findAd(database, workspace.id, 'kelpie', 'a9'))?.landingPage).toBe(
      'https://tarnbrook.example/nine',
    )
  })
})

describe('profiles', () => {
  it('are refused with the field that is wrong, and never overwrite another by accident', async () => {
    const own = {
      id: 'fernlight',
      name: 'Fernlight',
      dialect: { open: '((', close: '))', tokens: { 'ad.id': '((ad))' } },
    }
    expect(await keepProfile(database, workspace, own, { isNew: true })).toMatchObject([
      { path: 'dialect.tokens.ad.id' },
    ])
    const mended = { ...own, dialect: { ...own.dialect, tokens: { 'ad.id': 'ad' } } }
    expect(await keepProfile(database, workspace, mended, { isNew: true })).toEqual([])
    expect(await keepProfile(database, workspace, mended, { isNew: true })).toMatchObject([{ path: 'id' }])
    expect(profileSchema.parse(JSON.parse(JSON.stringify(profileSchema.parse(mended))))).toEqual(
      profileSchema.parse(mended),
    )
  })
})

describe('trying a link', () => {
  it('asks no host that is not listed, and nothing inside our own network', async () => {
    let asked = 0
    const server = createServer((_, response) => {
      asked += 1
      response.end('secret')
    })
    await new Promise<void>(ready => server.listen(0, '127.0.0.1', ready))
    const address = server.address()
    const port = typeof address === 'object' ? address?.port : 0
    const listed = { ...workspace, settings: { ...workspace.settings, hosts: ['127.0.0.1'] } }
    const unlisted = await tryLink(workspace, `http://127.0.0.1:${port}/?a=1`)
    expect(unlisted.findings).toEqual([{ code: 'not_followed', host: '127.0.0.1' }])
    expect((await tryLink(listed, `http://127.0.0.1:${port}/`)).reached).toBe(false)
    expect((await tryLink(listed, 'javascript:alert(1)')).reached).toBe(false)
    expect(asked).toBe(0)
    server.close()
  })
})
