import type { RestsOn } from '@/server/compute/views/weigh'
import { useFormats } from '../format'
import { Note } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { StandsOnNotes } from './StandsOnNotes'

/** What the estimate rests on where clicks, or a network's conversions, are missing. */
export function RestsOnNotes({ rests }: { rests: RestsOn }) {
  const { count, locale } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  return (
    <>
      <StandsOnNotes of={rests.days} />
      {rests.tracked && (
        <Note>
          No network reports conversions, so nothing is estimated: these are the{' '}
          {words('orders that are tracked')}, and there may be more.{' '}
          <WordLink href="/intake/reports">Import a report with conversions</WordLink> to estimate them.
        </Note>
      )}
      {rests.silent.map(({ network, tracked, low, high }) => (
        <Note key={network}>
          {networkName(network)} reports no conversions: {words(`${count(tracked)} orders are tracked`)};{' '}
          {count(Math.round(low))}–{count(Math.round(high))} if tracking loses as much there as at{' '}
          {new Intl.ListFormat(locale).format(rests.claiming.map(networkName))}.
        </Note>
      ))}
      {rests.byParameters && (
        <Note>
          No clicks are recorded: {words('orders are known by the parameters of their landing page alone')}.{' '}
          <WordLink href="/signals/hand-off">The tag on the site</WordLink> adds clicks, devices and time from
          click to {words('order')}.
        </Note>
      )}
    </>
  )
}
