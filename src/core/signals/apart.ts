/** What browsers reported on a day and figures leave out for one reason, until somebody decides. */
export interface ApartGroup {
  kind: 'event' | 'click'
  /** the result's ID, or the network of a click */
  of: string
  reason: string
  /** UTC */
  day: string
  count: number
  /** epoch ms */
  first: number
  last: number
  /** how many classes of senders and browsers they come from */
  senders: number
  agents: number
  page: string | null
}
