import { v7 } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ClickArrival } from '@/core/intake/arrival'
import { savedLinkSchema } from '@/core/links/savedLink'
import type { Database } from '@/data/connect'
import { applyChanges } from '@/data/links'
import { saveLink } from '@/data/savedLinks'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { importFile } from '../import/importFile'
import { readAgent } from './agents'
import { clickReader } from './clickReader'

const at = Date.UTC(2026, 9, 6, 12)
const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
const PHONE =
  'Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.0 Mobile/15E148 Safari/604.1'
const TABLET =
  'Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.0 Mobile/15E148 Safari/604.1'
const click = (query: string, more: Partial<ClickArrival> = {}): ClickArrival => ({
  kind: 'click',
  id: 'k1',
  at,
  workspace: 'w',
  network: 'norrfeed',
  code: 'no1',
  query,
  landing: 'https://tarnbrook.example/kits',
  visitor: null,
  from: '192.0.2.0',
  agent: DESKTOP,
  ...more,
})

let database: Database
let stop: () => Promise<void>
type Row = NonNullable<ReturnType<Awaited<ReturnType<typeof clickReader>>>>
let reader: Awaited<ReturnType<typeof clickReader>>
/** A click that came by a code is always one. */
const read = (arrival: ClickArrival): Row => reader(arrival)!
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  const rows = [
    'norrfeed,c1,Autumn,s1,Weavers,a1,Oak',
    'norrfeed,c1,Autumn,s1,Weavers,a2,Wool',
    'norrfeed,c1,Autumn,s2,Knitters,a3,Wool',
    'norrfeed,c2,Spring,s3,Felters,a4,Ash',
    'kelpie,c1,Autumn at Kelpie,s1,Group,a1,Elm',
  ].map(row => `2026-10-01,${row},EUR,1.00`)
  await importFile(
    database,
    (await findWorkspace(database, 'w'))!,
    'delivery',
    `date,network,campaign_id,campaign_name,ad_set_id,ad_set_name,ad_id,ad_name,currency,spend\n${rows.join('\n')}\n`,
  )
  const after = {
    utm_source: 'norrfeed',
    cid: '{campaign.id}',
    cname: '{campaign.name}',
    sid: '{ad_set.id}',
    sname: '{ad_set.name}',
    aid: '{ad.id}',
    aname: '{ad.name}',
    spot: '{placement}',
    kw: '{keyword}',
    mt: '{match_type}',
    src: '{source}',
    dev: '{device}',
    tap: '{click.id}',
    mixed: 'x-{ad.id}',
  }
  await applyChanges(database, 'w', [
    { what: 'plan', network: 'norrfeed', level: 'account', scope: '', before: {}, after },
  ])
  const link = savedLinkSchema.parse({
    title: 'A post',
    network: 'norrfeed',
    campaign: { id: 'c2', name: 'Spring' },
    ad_set: { id: 's3', name: 'Felters' },
    ad: { id: 'a4', name: 'Ash' },
    destination: 'https://tarnbrook.example/kits',
    former_codes: ['old-post'],
    created_at: new Date(at).toISOString(),
  })
  await saveLink(database, 'w', { code: 'post', link }, null, new Date(at))
  reader = await clickReader(database, 'w')
})
afterAll(() => stop())

describe('a click', () => {
  it.each([
    ['an ad’s ID tells all above it', 'aid=a2', ['c1', 's1', 'a2']],
    ['whatever else the address says of them', 'aid=a4&sid=s1&cid=c1&sname=Weavers', ['c2', 's3', 'a4']],
    ['a name that one ad alone has', 'aname=Oak', ['c1', 's1', 'a1']],
    ['a name that two ads have, tells what is above both', 'aname=Wool', ['c1', null, null]],
    ['and the ad set beside it tells which', 'aname=Wool&sid=s2', ['c1', 's2', 'a3']],
    ['an ad set by its name', 'sname=Knitters', ['c1', 's2', null]],
    ['a campaign by its name', 'cname=Spring', ['c2', null, null]],
    ['an ID that nobody knows makes no ad', 'aid=a99&sid=s99&cid=c99', [null, null, null]],
    ['and what it stands with is no other ad', 'aid=a99&aname=Oak&cid=c1', ['c1', null, null]],
    ['a name that nobody knows is none', 'aname=Beech', [null, null, null]],
    ['a token that the network left unfilled', 'aid=[[ad_ref]]&cname=Spring', ['c2', null, null]],
    ['an empty value', 'aid=&cid=', [null, null, null]],
    ['a token with text about it', 'mixed=x-a1', ['c1', 's1', 'a1']],
  ])('%s', (_, query, ad) => {
    const { campaign_id, ad_set_id, ad_id } = read(click(query))
    expect([campaign_id, ad_set_id, ad_id]).toEqual(ad)
  })
  it('of another network finds that network’s ads alone', () => {
    expect(read(click('aid=a1', { network: 'kelpie' }))).toMatchObject({ campaign_id: null, ad_id: null })
    expect(read(click('aid=a1', { network: 'unheard-of' }))).toMatchObject({
      ad_id: null,
      network: 'unheard-of',
    })
  })
  it.each([
    ['by its code', 'post', '', 'a4'],
    ['by a code that it had', 'old-post', '', 'a4'],
    ['unless the click says itself', 'post', 'aid=a1', 'a1'],
    ['not by another code', 'no1', '', null],
  ])('on a saved link is for the link’s ad: %s', (_, code, query, ad) => {
    expect(read(click(query, { code })).ad_id).toBe(ad)
  })
  it('keeps what its parameters say, as they are written', () => {
    expect(read(click('spot=side%20bar&kw=hand+loom&mt=exact&src=s-9&nfref=nf1&tap=t1&dev=tv'))).toEqual({
      workspace: 'w',
      day: '2026-10-06',
      click_id: 'k1',
      clicked_at: '2026-10-06T12:00:00.000Z',
      network: 'norrfeed',
      campaign_id: null,
      ad_set_id: null,
      ad_id: null,
      visitor_id: null,
      // Its own parameter goes before a token of the plan.
      network_click_id: 'nf1',
      landing_url: 'https://tarnbrook.example/kits',
      device: 'tv',
      placement: 'side bar',
      keyword: 'hand loom',
      match_type: 'exact',
      source: 's-9',
      country: null,
      bot: false,
      repeated: false,
      attributes: {
        code: 'no1',
        query: 'spot=side%20bar&kw=hand+loom&mt=exact&src=s-9&nfref=nf1&tap=t1&dev=tv',
        from: '192.0.2.0',
        agent: DESKTOP,
      },
    })
    expect(read(click('tap=t1')).network_click_id).toBe('t1')
    expect(read(click('')).network_click_id).toBeNull()
    expect(read(click('', { cleaned: ['query', 'agent'] })).attributes).toMatchObject({
      cleaned: 'query, agent',
    })
  })
  it.each([
    ['Europe/Lisbon', 'PT'],
    ['America/New_York', 'US'],
    ['UTC', null],
    ['Mars/Base', null],
    [undefined, null],
  ])('lies by its zone %s in %s', (zone, country) => {
    expect(read(click('', { zone })).country).toBe(country)
  })
  it('came about when its ID says, where that can be', () => {
    const id = v7({ msecs: at - 60_000 })
    expect(read(click('', { id })).clicked_at).toBe('2026-10-06T11:59:00.000Z')
    const later = v7({ msecs: at + 60_000 })
    expect(read(click('', { id: later })).clicked_at).toBe('2026-10-06T12:00:00.000Z')
  })
  it.each([
    ['at once', 'no1', 'v1', 9_999, true],
    ['ten seconds later', 'no1', 'v1', 10_000, false],
    ['on another link', 'no2', 'v1', 1000, false],
    ['by somebody else', 'no1', 'v2', 1000, false],
    ['by somebody unknown', 'no1', null, 1000, false],
    ['that is older', 'no1', 'v1', -1000, false],
  ])('again is a repeat or none: %s', (name, code, visitor, after, repeated) => {
    const own = (who: string | null) => who && `${name} ${who}`
    read(click('', { id: `${name}-1`, visitor: own('v1') }))
    const again = click('', { id: `${name}-2`, code, visitor: own(visitor), at: at + after })
    expect(read(again).repeated).toBe(repeated)
    // Read once more after a failure, it is what it was.
    expect(read(again).repeated).toBe(repeated)
  })
})

describe('a user agent', () => {
  it.each([
    [DESKTOP, { device: 'desktop', os: 'Linux', browser: 'Firefox', bot: false }],
    [PHONE, { device: 'phone', os: 'iOS', browser: 'Safari', bot: false }],
    [TABLET, { device: 'tablet', os: 'iOS', browser: 'Safari', bot: false }],
    ['examplebot/1.0 (+https://crawler.example)', { device: null, os: null, bot: true }],
    ['', { device: null, os: null, browser: null, bot: true }],
  ])('%j', (agent, facts) => {
    expect(readAgent(agent)).toMatchObject(facts)
    expect(readAgent(agent)).toMatchObject(facts)
  })
})
