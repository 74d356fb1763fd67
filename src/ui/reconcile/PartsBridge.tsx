'use client'
import type { ChangedView } from '@/server/compute/views/changed'
import { useFormats } from '../format'
import { Bridge, type BridgeStep } from './Bridge'
import { partWords } from './partWords'

/** From what a claimed result cost before to what it costs after, by its four parts; what is tracking alone is the networks' side. */
export function PartsBridge({ whole }: { whole: ChangedView['whole'] }) {
  const { money, currency } = useFormats()
  const { first, second, parts, logChange } = whole
  const [from, to] = [first.costPerClaim ?? 0, second.costPerClaim ?? 0]
  let at = from
  const steps = parts.map(({ part, log }): BridgeStep => {
    const next = at + (logChange ? ((to - from) * (log ?? 0)) / logChange : 0)
    const span: BridgeStep['span'] = [at, next]
    at = next
    return { label: partWords[part].name, span, side: part === 'capture' ? 'network' : 'both' }
  })
  const written = (minor: number) => money(Math.round(minor))
  return (
    <Bridge
      label={`A claimed result cost ${written(from)} ${currency} before and ${written(to)} after; the steps between stand in the table below`}
      steps={[
        { label: 'before', span: [0, from], side: 'whole' },
        ...steps,
        { label: 'after', span: [0, to], side: 'whole' },
      ]}
      written={written}
      axis={`a claim costs, ${currency}`}
    />
  )
}
