'use client'
import { causes, type GapCause, orderCauses } from '@/core/evidence/causes'
import { claimCausesIn, type Gap } from '@/core/evidence/gap'
import { useFormats } from '../format'
import { useResultWords } from '../shell/ResultWords'
import { Bridge, type BridgeStep } from './Bridge'

/**
 * The steps from the networks' claims over what stands on both sides to the shop's orders, each as high as it has
 * claims or orders, or as they are worth.
 */
function bridgeOf(gap: Gap, by: 'count' | 'value'): BridgeStep[] {
  const [claims, orders] = by === 'count' ? [gap.claims, gap.orders] : [gap.claimsValue, gap.ordersValue]
  let at = claims
  const step = (cause: GapCause, sign: -1 | 1, side: BridgeStep['side']) => {
    const next = at + sign * gap.causes.find(line => line.cause === cause)![by]
    const span: [number, number] = [at, next]
    at = next
    return { label: causes[cause].short, span, side }
  }
  const steps = [
    { label: 'claims', span: [0, claims] as [number, number], side: 'network' as const },
    ...claimCausesIn([gap]).map(cause => step(cause, -1, 'network')),
    { label: 'in both', span: [0, at] as [number, number], side: 'both' as const },
    ...(by === 'value' ? [step('value_differs', 1, 'both')] : []),
    ...orderCauses.map(cause => step(cause, 1, 'shop')),
  ]
  return [...steps, { label: 'orders', span: [0, orders], side: 'shop' }]
}

export function GapBridge({ gap, by }: { gap: Gap; by: 'count' | 'value' }) {
  const { count, money } = useFormats()
  const words = useResultWords()
  return (
    <Bridge
      label={words(`From ${gap.claims} claims to ${gap.orders} orders; each step stands in the table below`)}
      steps={bridgeOf(gap, by).map(step => ({ ...step, label: words(step.label) }))}
      written={by === 'count' ? count : money}
    />
  )
}
