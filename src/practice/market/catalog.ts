/** What Tarnbrook Looms sells, each with the group it is in, its price in cents and how often it is bought. */
export const products = [
  { name: 'Table loom kit 40', group: 'Loom kits', price: 14900, weight: 16 },
  { name: 'Table loom kit 60', group: 'Loom kits', price: 22900, weight: 11 },
  { name: 'Table loom kit 80', group: 'Loom kits', price: 31900, weight: 6 },
  { name: 'Table loom kit 100', group: 'Loom kits', price: 42000, weight: 3 },
  { name: 'Yarn set Moss', group: 'Yarn', price: 1800, weight: 9 },
  { name: 'Yarn set Fjord', group: 'Yarn', price: 3600, weight: 13 },
  { name: 'Yarn set Harvest', group: 'Yarn', price: 5400, weight: 12 },
  { name: 'Yarn set Atelier', group: 'Yarn', price: 9600, weight: 7 },
  { name: 'Monthly yarn parcel', group: 'Parcels', price: 2400, weight: 10 },
] as const

export interface CampaignPlan {
  name: string
  /** clicks a day of the whole campaign */
  clicks: number
  /** share of its clicks that become orders */
  rate: number
  /** cost of a click in cents */
  cost: number
  adSets: { name: string; ads: string[] }[]
}

export interface NetworkPlan {
  id: string
  /** letters before the IDs of its campaigns, ad sets and ads */
  prefix: string
  /** share of an ad's click-through orders that the network manages to claim */
  capture: number
  /** claims by view a day, on orders that it did not bring */
  viewClaims: number
  /** whether its claims name the shop's transaction */
  transactions: number
  /** clicks for each impression */
  clickRate: number
  clickWindowDays: number
  datedBy: 'click' | 'conversion'
  placements: string[]
  /** whether its reports say how many people were reached */
  reports_reach: boolean
  campaigns: CampaignPlan[]
}

/** The three networks that Tarnbrook Looms buys from in the demo. */
export const networkPlans: NetworkPlan[] = [
  {
    id: 'norrfeed',
    prefix: 'n',
    capture: 0.82,
    viewClaims: 2.2,
    transactions: 0.93,
    clickRate: 0.012,
    clickWindowDays: 30,
    datedBy: 'conversion',
    placements: ['feed', 'stories', 'sidebar'],
    reports_reach: true,
    campaigns: [
      {
        name: 'Autumn kits',
        clicks: 190,
        rate: 0.03,
        cost: 177,
        adSets: [
          { name: 'Looks like buyers', ads: ['Oak & wool', 'First cloth in a day', 'Kitchen table loom'] },
          { name: 'Weaving interests', ads: ['Oak & wool, tall', 'Hands at the loom', 'Kit unboxed'] },
          { name: 'Visited, no order', ads: ['Still on your mind?', 'Two colours left'] },
        ],
      },
      {
        name: 'Yarn refill',
        clicks: 110,
        rate: 0.036,
        cost: 99,
        adSets: [
          { name: 'Kit owners', ads: ['Moss to Fjord', 'Harvest palette', 'Refill in 2 clicks'] },
          { name: 'Knitters', ads: ['From needles to loom', 'Yarn by weight'] },
        ],
      },
      {
        name: 'Gift season',
        clicks: 90,
        rate: 0.024,
        cost: 194,
        adSets: [
          { name: 'Gift givers 30+', ads: ['A loom under the tree', 'For slow evenings'] },
          { name: 'Cold reach, wide', ads: ['Weave something', 'Slow craft #3'] },
        ],
      },
    ],
  },
  {
    id: 'kelpie',
    prefix: 'k',
    capture: 0.86,
    viewClaims: 0,
    transactions: 0.97,
    clickRate: 0.045,
    clickWindowDays: 30,
    datedBy: 'click',
    placements: ['search'],
    reports_reach: false,
    campaigns: [
      {
        name: 'Brand',
        clicks: 60,
        rate: 0.058,
        cost: 71,
        adSets: [{ name: 'Tarnbrook', ads: ['Brand headline A', 'Brand headline B'] }],
      },
      {
        name: 'Loom kits search',
        clicks: 150,
        rate: 0.03,
        cost: 224,
        adSets: [
          { name: 'Table loom', ads: ['Table looms from 149', 'Looms that fit a table'] },
          { name: 'Weaving kit beginner', ads: ['Weave today', 'Beginner kits'] },
          { name: 'Gift for crafters', ads: ['A gift that lasts', 'Craft gifts'] },
        ],
      },
      {
        name: 'Yarn search',
        clicks: 70,
        rate: 0.026,
        cost: 129,
        adSets: [{ name: 'Weaving yarn', ads: ['Wool & linen yarn', 'Yarn sets 18–96'] }],
      },
    ],
  },
  {
    id: 'mothwire',
    prefix: 'm',
    capture: 0.72,
    viewClaims: 0.8,
    transactions: 0.8,
    clickRate: 0.009,
    clickWindowDays: 14,
    datedBy: 'conversion',
    placements: ['timeline', 'replies'],
    reports_reach: true,
    campaigns: [
      {
        name: 'Loom stories',
        clicks: 80,
        rate: 0.027,
        cost: 150,
        adSets: [
          { name: 'Makers', ads: ['Thread by thread', 'What 9 minutes make'] },
          { name: 'Small homes', ads: ['No room for a loom?', 'Folds flat'] },
        ],
      },
      {
        name: 'First Warp booklet',
        clicks: 55,
        rate: 0.021,
        cost: 112,
        adSets: [{ name: 'Pattern lovers', ads: ['12 patterns, free', 'Your first warp'] }],
      },
    ],
  },
]
