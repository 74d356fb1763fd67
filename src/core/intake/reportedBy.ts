import { isPartnerSale } from '../signals/outcomes'
import type { kindsOfArrival } from './arrivalFilter'
import type { OrderRow } from './records'

/**
 * Who vouches for a record: the shop by its signature, a partner by its postback, our collector that redirected the
 * click, a browser that says so, or a file that somebody imported.
 */
export const reporters = ['shop', 'partner', 'collector', 'browser', 'file'] as const
export type Reporter = (typeof reporters)[number]

/** What of a stored record says who reported it. */
interface Reported extends Partial<Pick<OrderRow, 'order_id' | 'channel'>> {
  attributes?: Readonly<Record<string, string>> | null
  changed_at?: Date | null
}

/** Who reported a record of a kind, by what is stored of it. */
export function reporterOf(kind: (typeof kindsOfArrival)[number], row: Reported): Reporter {
  switch (kind) {
    case 'event':
      return 'browser'
    case 'hop':
      return 'collector'
    case 'postback':
      return 'partner'
    case 'report':
      return 'file'
    case 'click':
      return row.attributes?.told_by === 'page'
        ? 'browser'
        : row.attributes?.code !== undefined
          ? 'collector'
          : 'file'
    case 'order':
      return isPartnerSale({ order_id: row.order_id ?? '', channel: row.channel ?? null })
        ? 'partner'
        : row.changed_at
          ? 'shop'
          : 'file'
  }
}
