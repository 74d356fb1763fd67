import { ArrowLeftRight, Inbox, Link2, Radio, Scale, SlidersHorizontal, Target } from 'lucide-react'
import { fetchAhead } from '../links/fetchStation'

/** The stations in working order. The key is the station's place in the whole round. */
export const stations = [
  {
    path: '/results',
    key: '1',
    name: 'Results',
    icon: Target,
    does: 'what counts, what it is worth, who hears of it',
  },
  { path: '/signals', key: '2', name: 'Signals', icon: Radio, does: 'rules and tags, installed and checked' },
  { path: '/links', key: '3', name: 'Links', icon: Link2, does: 'tag every ad click' },
  {
    path: '/intake',
    key: '4',
    name: 'Intake',
    icon: Inbox,
    does: 'clicks, orders and reports as they arrive',
  },
  { path: '/reconcile', key: '5', name: 'Reconcile', icon: ArrowLeftRight, does: 'claims against orders' },
  { path: '/weigh', key: '6', name: 'Weigh', icon: Scale, does: 'cost per result against the line' },
] as const

/** What is said once for all stations; it stands apart from them. */
export const settingsPlace = {
  path: '/settings',
  key: '0',
  name: 'Settings',
  icon: SlidersHorizontal,
  does: 'the business, its networks, the tracking domain, data',
} as const
export const places = [...stations, settingsPlace] as const

export interface Part {
  href: string
  name: string
  /** what it is for, where its name does not say it */
  does: string
}

/** The parts of each station, in the order of their line. */
export const partsOf: Record<string, readonly Part[]> = {
  '/results': [
    { href: '/results', name: 'What counts', does: 'results, their worth, and who hears of them' },
    { href: '/results/journey', name: 'Journey', does: 'the steps to a result, and where most are lost' },
  ],
  '/signals': [
    { href: '/signals', name: 'Rules', does: 'by which the tag tells results' },
    { href: '/signals/networks', name: 'Networks', does: 'how each network is told' },
    { href: '/signals/hand-off', name: 'Hand-off', does: 'what a developer installs' },
    { href: '/signals/check', name: 'Page check', does: 'is the page as it should be?' },
    { href: '/signals/live-test', name: 'Live test', does: 'a visit of your own, watched as it happens' },
  ],
  '/links': [
    { href: '/links', name: 'Tag plan', does: 'what each ad’s address carries' },
    { href: '/links/arrivals', name: 'Arrivals', does: 'what parameters arrive with' },
    { href: '/links/library', name: 'Library', does: 'saved links and their codes' },
    { href: '/links/sources', name: 'Sources', does: 'placements, keywords and sites by their clicks' },
    { href: '/links/names', name: 'Names', does: 'rules by which campaigns and ads are named' },
    { href: '/links/profiles', name: 'Profiles', does: 'each network’s data sheet' },
  ],
  '/intake': [
    { href: '/intake', name: 'Arrivals', does: 'clicks, events and orders as they come' },
    { href: '/intake/set-aside', name: 'Set aside', does: 'what could not be taken in, to be mended' },
    { href: '/intake/routes', name: 'Routes', does: 'where each code of the tracking domain leads' },
    { href: '/intake/partners', name: 'Partners', does: 'networks that tell sales by postback' },
    { href: '/intake/shop', name: 'Shop export', does: 'the shop’s own export of orders, of any columns' },
    { href: '/intake/reports', name: 'Reports', does: 'a network’s report of any columns' },
    {
      href: '/intake/import',
      name: 'Import files',
      does: 'take in CSV files, or the shop’s orders as they come',
    },
  ],
  '/reconcile': [
    { href: '/reconcile', name: 'The balance', does: 'claims against orders, and why they differ' },
    { href: '/reconcile/changed', name: 'What changed', does: 'was it the ads or the tracking?' },
    {
      href: '/reconcile/bench',
      name: 'Matching bench',
      does: 'claims of which it is not certain what order they are',
    },
    { href: '/reconcile/rules', name: 'Rules beside', does: 'what networks should claim by their own rules' },
    { href: '/reconcile/client', name: 'Client’s page', does: 'one page to print for whoever pays' },
  ],
  '/weigh': [
    { href: '/weigh', name: 'Cost and line', does: 'what one result cost, and what to do about it' },
    { href: '/weigh/moves', name: 'Moves', does: 'what was decided, and what came of it' },
    { href: '/weigh/trend', name: 'History', does: 'how one row went, day by day' },
    { href: '/weigh/pages', name: 'Pages and offers', does: 'which landing page and offer brings most' },
  ],
  '/settings': [
    { href: '/settings', name: 'Business', does: 'currency, margin, how results are counted and written' },
    { href: '/settings/networks', name: 'Networks', does: 'where ads are bought, and what is held of each' },
    { href: '/settings/tracking', name: 'Tracking domain', does: 'is it answering as it should?' },
    { href: '/settings/data', name: 'Data', does: 'take all out, take it in, remove it' },
  ],
}

interface Heeds {
  period: boolean
  network: boolean
  result?: boolean
  /** whether it shows the days before as well */
  before?: boolean
}
/** Screens that heed the period, the chosen network or result, the longest path first; the others heed none. */
const heeding: [path: string, heeds: Heeds][] = [
  ['/links/library', { period: true, network: true }],
  ['/links/sources', { period: true, network: true }],
  ['/links/profiles', { period: false, network: false }],
  ['/links', { period: false, network: true }],
  ['/results/journey', { period: true, network: true }],
  ['/settings/data', { period: true, network: true }],
  ['/reconcile', { period: true, network: true, result: true, before: true }],
  ['/weigh', { period: true, network: true, result: true, before: true }],
]
export const heededAt = (path: string): Heeds =>
  heeding.find(([begin]) => path.startsWith(begin))?.[1] ?? { period: false, network: false }

/** The page of the guide that is about a screen, the longest path first. */
const guided: [path: string, page: string][] = [
  ['/intake/shop', 'files'],
  ['/intake/reports', 'files'],
  ['/intake/import', 'files'],
  ['/intake', 'evidence'],
  ['/signals/networks', 'networks'],
  ['/signals', 'signals'],
  ['/links/profiles', 'networks'],
  ['/links', 'links'],
  ['/results', 'results'],
  ['/reconcile', 'reconcile'],
  ['/weigh', 'weigh'],
  ['/settings/networks', 'networks'],
  ['/settings', 'data'],
]
export const guideAt = (path: string): string =>
  `/guide/${guided.find(([begin]) => path.startsWith(begin))?.[1] ?? 'first-number'}`

/** What a station needs much of is asked for while its page is still on its way. */
export const fetchesAhead: Partial<Record<string, () => void>> = { '/links': fetchAhead }

/** Keys that work on every screen, and those of single ones; the list that `?` shows. */
export const keyList: { where: string; keys: [keys: string, does: string][] }[] = [
  {
    where: 'Everywhere',
    keys: [
      ['Ctrl K', 'find a page, action, period, network, ad, order, link or rule'],
      ...places.map((s): [string, string] => [s.key, `go to ${s.name}`]),
      ['Esc', 'close the evidence'],
      ['?', 'this list'],
    ],
  },
  {
    where: 'In tables',
    keys: [
      ['j  k', 'next, previous row'],
      ['Enter', 'open the row’s evidence, or why it is judged so'],
      ['x', 'mark the row, to change several together'],
      ['l  h', 'show, hide what is below a row'],
      ['/', 'filter by name'],
    ],
  },
  {
    where: 'At the matching bench',
    keys: [
      ['a – e', 'the claim is for that order'],
      ['n', 'it is for none of ours'],
      ['s', 'leave it for later'],
      ['u', 'take the last one back'],
    ],
  },
  {
    where: 'In Links',
    keys: [
      ['j  k', 'next, previous ad'],
      ['x  Shift x', 'mark the ad, or all that are shown, to change them together'],
      ['l  h', 'show, hide what is below the ad’s campaign'],
      ['Shift h', 'hide what is below all campaigns, or show it'],
      ['/', 'filter the ads'],
      ['p', 'paste an address and take it apart'],
      ['t', 'try the link, hop by hop'],
      ['f', 'mend the first finding that can be mended'],
      ['u', 'undo the last change'],
      ['c', 'copy the address'],
      ['n', 'name an ad that no report has brought'],
    ],
  },
]
