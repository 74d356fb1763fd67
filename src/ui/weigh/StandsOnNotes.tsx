import type { StandsOn } from '@/core/weigh/standsOn'
import { useFormats } from '../format'
import { Note } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

/** What is known of a period's days: reports by the week or month, those that it cuts, and days without a report. */
export function StandsOnNotes({
  of: { laid, cut, uncovered, unclaimed, rates, byBrowsers, unconfirmed },
  asks = true,
}: {
  of: StandsOn
  /** whether whoever reads it could import what is missing */
  asks?: boolean
}) {
  const { count, day } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  return (
    <>
      {uncovered.map(({ network, from, to, days, orders }) => (
        <Note key={network} alarm>
          No report of {networkName(network)} covers{' '}
          {from === to
            ? day(from)
            : `${count(days)} ${days === 1 ? 'day' : 'days'} from ${day(from)} to ${day(to)}`}
          {orders > 0 && (
            <>, on which {words(`${count(orders)} ${orders === 1 ? 'order' : 'orders'}`)} came by its ads</>
          )}
          . Their spend is missing, so its costs look too low; its conversions may be missing as well.
          {asks && (
            <>
              {' '}
              <WordLink href="/intake/reports">Import a report of these days</WordLink>.
            </>
          )}
        </Note>
      ))}
      {unclaimed.map(({ network, from, to, orders }) => (
        <Note key={`${network} ${from}`} alarm>
          {networkName(network)}’s reports hold no conversions {from === to ? 'on' : 'from'} {day(from)}
          {from !== to && ` to ${day(to)}`}, although{' '}
          {words(`${count(orders)} ${orders === 1 ? 'order' : 'orders'}`)} came by its ads then: in the gap
          they read as not reported.
          {asks && (
            <>
              {' '}
              <WordLink href="/intake/reports">Import a report with conversions</WordLink>.
            </>
          )}
        </Note>
      ))}
      {byBrowsers && (
        <Note>
          {words(`${count(byBrowsers.results)} of ${count(byBrowsers.of)} orders`)} are reported by browsers
          alone: neither the shop nor a partner confirms them.
        </Note>
      )}
      {unconfirmed > 0 && (
        <Note>
          {words(`${count(unconfirmed)} ${unconfirmed === 1 ? 'order' : 'orders'}`)} reported by browsers{' '}
          {unconfirmed === 1 ? 'is' : 'are'} not in the shop’s orders, so{' '}
          {unconfirmed === 1 ? 'it counts' : 'they count'} nowhere.
        </Note>
      )}
      {rates.map(({ currency, after }) => (
        <Note key={currency}>
          No rate of {currency} after {day(after)} is known: amounts of later days use that one.
          {asks && (
            <>
              {' '}
              <WordLink href="/intake/import">Import rates.csv</WordLink>.
            </>
          )}
        </Note>
      ))}
      {laid.map(({ network, days }) => (
        <Note key={network}>
          {networkName(network)} reports up to {count(days)} days as one sum: it is spread evenly over its
          days.
          {cut
            .filter(one => one.network === network)
            .map(
              ({ from, to, counted }) =>
                ` Of ${day(from)} – ${day(to)} only ${count(counted)} ${counted === 1 ? 'day is' : 'days are'} in this period.`,
            )}
        </Note>
      ))}
    </>
  )
}
