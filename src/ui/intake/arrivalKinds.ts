import {
  CornerDownRight,
  FileSpreadsheet,
  Handshake,
  type LucideIcon,
  MousePointerClick,
  Radio,
  ShoppingBag,
} from 'lucide-react'
import type { ArrivalProblem } from '@/core/intake/arrivalFilter'
import type { Arrival } from '@/server/arrivals/latest'
import type { Formats } from '../format'

type NameOf = (network: string) => string
type Facts = (readonly [name: string, value: string | null])[]
interface Kind<A> {
  one: string
  many: string
  Icon: LucideIcon
  side: 'network' | 'shop' | 'ink'
  /** what it was, in one line */
  title: (arrival: A, networkName: NameOf) => string
  /** what stands at the end of the line */
  note: (arrival: A, formats: Formats) => string
  facts: (arrival: A, networkName: NameOf, formats: Formats) => Facts
}
type Kinds = { [K in Arrival['kind']]: Kind<Extract<Arrival, { kind: K }>> }

const path = (...parts: (string | null | undefined)[]) => parts.filter(Boolean).join(' › ')
const pageOf = (address: string | null) => address?.replace(/^https?:\/\//, '').split(/[?#]/)[0] ?? ''
const marks = (a: { bot: boolean; repeated?: boolean }) =>
  a.bot ? 'a program, not counted' : a.repeated ? 'again at once, not counted' : ''

/** What each kind of arrival shows, one entry each. */
export const arrivalKinds: Kinds = {
  click: {
    one: 'click',
    many: 'clicks',
    Icon: MousePointerClick,
    side: 'network',
    title: (a, nameOf) => path(nameOf(a.network), a.campaign, a.ad),
    note: a => marks(a) || [a.device, a.placement, a.keyword].filter(Boolean).join(', '),
    facts: (a, nameOf) => [
      ['network', nameOf(a.network)],
      ['campaign', a.campaign],
      ['ad', a.ad],
      ['device', a.device],
      ['placement', a.placement],
      ['keyword', a.keyword],
      ['country', a.country],
      ['visitor', a.visitor],
      ['network’s click ID', a.networkClickId],
      ['mark', marks(a)],
    ],
  },
  event: {
    one: 'event',
    many: 'events',
    Icon: Radio,
    side: 'ink',
    title: a => `${a.name} on ${pageOf(a.landing)}`,
    note: a => marks(a) || (a.value ? `${a.value} ${a.currency ?? ''}` : ''),
    facts: a => [
      ['event', a.name],
      ['value', a.value && `${a.value} ${a.currency ?? ''}`],
      ['transaction', a.transaction],
      ['click', a.click],
      ['visitor', a.visitor],
      ['country', a.country],
      ['mark', marks(a)],
    ],
  },
  hop: {
    one: 'hop',
    many: 'hops',
    Icon: CornerDownRight,
    side: 'network',
    title: a => `on to ${pageOf(a.landing)}`,
    note: a => a.code,
    facts: a => [
      ['code', a.code],
      ['click', a.click],
      ['visitor', a.visitor],
    ],
  },
  postback: {
    one: 'postback',
    many: 'postbacks',
    Icon: Handshake,
    side: 'shop',
    title: a => (a.deal ? `${a.partner} on deal ${a.deal}` : `${a.partner}, set aside`),
    note: a => a.status ?? 'could not be read',
    facts: a => [
      ['partner', a.partner],
      ['deal', a.deal],
      ['status', a.status],
      ['click', a.click],
    ],
  },
  order: {
    one: 'order',
    many: 'orders',
    Icon: ShoppingBag,
    side: 'shop',
    title: (a, nameOf) => {
      if (!a.evidence) return `${a.result} ${a.id}`
      const [credit] = a.evidence.credits
      return credit ? path(nameOf(credit.network), credit.campaign, credit.ad) : 'no ad known'
    },
    note: (a, { money }) => `${money(a.total, a.currency)} ${a.currency}`,
    facts: (a, nameOf, { money }) => [
      ['status', a.status.replace('_', ' ')],
      ['total', `${money(a.total, a.currency)} ${a.currency}`],
      ['result', a.result],
      ['ad', a.evidence && arrivalKinds.order.title(a, nameOf)],
      ['click', a.evidence?.credits[0]?.clickId ?? null],
    ],
  },
  report: {
    one: 'report',
    many: 'reports',
    Icon: FileSpreadsheet,
    side: 'network',
    title: (a, nameOf) => path(a.network && nameOf(a.network), a.file),
    note: (a, { count }) =>
      a.rejected > 0 ? `${count(a.accepted)} in, ${count(a.rejected)} rejected` : `${count(a.accepted)} in`,
    facts: (a, nameOf, { count }) => [
      ['file', a.file],
      ['holds', a.holds],
      ['network', a.network && nameOf(a.network)],
      ['rows in', count(a.accepted)],
      ['known already', count(a.known)],
      ['rejected', count(a.rejected)],
    ],
  },
}
export const kindsInOrder = Object.keys(arrivalKinds) as Arrival['kind'][]

export const problemWords: Record<ArrivalProblem, string> = {
  not_counted: 'not counted',
  no_ad: 'names no ad',
  no_click: 'names no click',
  no_evidence: 'nothing says where from',
  unread: 'could not be read',
  rejected: 'rows rejected',
}

/** The entry of an arrival's own kind. */
export const kindOf = <A extends Arrival>(arrival: A): Kind<A> =>
  arrivalKinds[arrival.kind] as unknown as Kind<A>
