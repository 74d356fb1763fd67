import { expect, it } from 'vitest'
import { dataset, delivery, order } from '../evidence/sampleRecords'
import { landingParameters } from './orderParameters'

const QUERY = 'utm_source=norrfeed&utm_campaign=Autumn%20kits&utm_content=Oak+%26+wool'

it.each([
  `https://tarnbrook.example/kits?${QUERY}#top`,
  `tarnbrook.example/kits?${QUERY}`,
  `/kits?${QUERY}`,
  `?${QUERY}`,
  QUERY,
])('the landing page %s says its campaign', landing_url => {
  expect(Object.fromEntries(landingParameters({ landing_url }))).toEqual({
    utm_source: 'norrfeed',
    utm_campaign: 'Autumn kits',
    utm_content: 'Oak & wool',
  })
  const { orders, tree } = dataset({
    orders: [order('o1', 5, { landing_url })],
    delivery: [delivery('2026-10-01', { campaign_name: 'Autumn kits', ad_name: 'Oak & wool' })],
  })
  expect(tree.leaves[orders[0]!.named]).toMatchObject({ network: 'norrfeed', campaign: 'c1', ad: 'a1' })
})

it.each([
  'https://tarnbrook.example/kits',
  'https://tarnbrook.example/#kits?utm_source=norrfeed',
  'kits',
  '',
])('the landing page “%s” says none', landing_url =>
  expect([...landingParameters({ landing_url })]).toEqual([]),
)
