import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { shippedProfiles } from '@/core/links/profiles'
import type { StationAd } from './station'
import { adKey, linesOf } from './treeLines'

const ad = (network: string, campaignId: string, adSetId: string, id: string): StationAd => ({
  network,
  id,
  name: `Ad ${id}`,
  campaignId,
  adSetId,
  landingPage: null,
  straight: true,
  placed: null,
  state: null,
  codes: [],
  worst: null,
  arrivals: null,
})
const ads = [
  ad('corvane', 'o1', 'o1', 'o1'),
  ad('norrfeed', 'c1', '', 'a0'),
  ad('norrfeed', 'c1', 's1', 'a1'),
  ad('norrfeed', 'c1', 's1', 'a2'),
  ad('norrfeed', 'c2', '', 'a3'),
  ad('norrfeed', 'c2', 's2', 'a4'),
  ad('parkfold', 'p1', 'p1', 'b1'),
]
const lines = (folded: string[] = [], of = ads) =>
  linesOf(of, key => key.toUpperCase(), shippedProfiles, new Set(folded))

describe('the lines of the tree', () => {
  it('show each heading once, and none for a level that the network lacks', () => {
    expect(lines().map(line => `${line.kind} ${line.kind === 'ad' ? line.ad.id : line.text}`)).toEqual([
      'network Corvane',
      'ad o1',
      'network Norrfeed',
      'campaign NORRFEED/CAMPAIGN/C1',
      'ad_set NORRFEED/AD_SET/',
      'ad a0',
      'ad_set NORRFEED/AD_SET/S1',
      'ad a1',
      'ad a2',
      'campaign NORRFEED/CAMPAIGN/C2',
      'ad_set NORRFEED/AD_SET/',
      'ad a3',
      'ad_set NORRFEED/AD_SET/S2',
      'ad a4',
      'network Parkfold',
      'campaign PARKFOLD/CAMPAIGN/P1',
      'ad b1',
    ])
  })
  it('know at each heading which ads are below it, folded or not', () => {
    fc.assert(
      fc.property(
        fc.subarray(ads),
        fc.subarray(lines().flatMap(line => (line.kind === 'ad' ? [] : [line.key]))),
        (some, folded) => {
          for (const line of lines(folded, some)) {
            if (line.kind === 'ad') continue
            const below = some.filter(a =>
              line.kind === 'network'
                ? a.network === line.key
                : line.kind === 'campaign'
                  ? `${a.network}/campaign/${a.campaignId}` === line.key
                  : `${a.network}/ad_set/${a.adSetId}` === line.key && some.indexOf(a) >= line.from,
            )
            const named = some.slice(line.from, line.to)
            expect(named).toEqual(line.kind === 'ad_set' ? below.slice(0, named.length) : below)
          }
        },
      ),
    )
  })
  it('hide exactly what is below a folded heading, at whatever level', () => {
    const shown = (...folded: string[]) =>
      lines(folded).flatMap(line => (line.kind === 'ad' ? [line.ad.id] : []))
    expect(shown('norrfeed/campaign/c1')).toEqual(['o1', 'a3', 'a4', 'b1'])
    expect(shown('norrfeed')).toEqual(['o1', 'b1'])
    expect(shown('norrfeed', 'norrfeed/campaign/c1', 'norrfeed/ad_set/s2')).toEqual(['o1', 'b1'])
    expect(shown('norrfeed/ad_set/s1')).toEqual(['o1', 'a0', 'a3', 'a4', 'b1'])
    expect(lines(['norrfeed']).map(line => line.key)).not.toContain('norrfeed/campaign/c1')
  })
  it('list an ad of a network without a profile under its ID', () => {
    expect(lines([], [ad('gone', 'c', 's', 'x')]).map(line => line.text)).toEqual(['gone', 'Ad x'])
    expect(adKey({ network: 'gone', id: 'x' })).toBe('gone/x')
  })
})
