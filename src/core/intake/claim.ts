import type { Day, Period } from '../shared/days'
import type { Minor } from '../shared/money'

/** One claim, or one unit of a network's daily sum; amounts in the workspace's currency. */
export interface Claim {
  day: Day
  /** epoch ms; null where only a day is known */
  at: number | null
  network: number
  leaf: number
  conversion: string
  kind: 'click' | 'view'
  transaction: string | null
  clickId: string | null
  /** what was decided by hand of it: the order's ID, or null for none of ours */
  decided: { order: string | null } | null
  /** by what it is decided upon; null where it cannot be */
  key: string | null
  value: Minor
  /** whether the network said a value at all */
  valued: boolean
  /** where several ads were credited with it: what each has of it */
  parts?: readonly ClaimPart[]
  /** where its day is only laid out of a longer stretch: on some day of it */
  stretch?: Period
  /** where it is less than one conversion: of how many thousandths */
  thousandths?: number
}

export interface ClaimPart {
  leaf: number
  thousandths: number
  value: Minor
}
