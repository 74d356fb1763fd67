import { ArrowLeftRight, Inbox, Link2, Radio, Scale, Target } from 'lucide-react'
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

/** What a station needs much of is asked for while its page is still on its way. */
export const fetchesAhead: Partial<Record<string, () => void>> = { '/links': fetchAhead }

/** Keys that work on every screen, and those of single ones; the list that `?` shows. */
export const keyList: { where: string; keys: [keys: string, does: string][] }[] = [
  {
    where: 'Everywhere',
    keys: [
      ['Ctrl K', 'find a station, period, network or ad'],
      ...stations.map((s): [string, string] => [s.key, `go to ${s.name}`]),
      ['Esc', 'close the evidence'],
      ['?', 'this list'],
    ],
  },
  {
    where: 'In tables',
    keys: [
      ['j  k', 'next, previous row'],
      ['Enter', 'open the row’s evidence'],
      ['l  h', 'show, hide what is below a row'],
      ['/', 'filter by name'],
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
