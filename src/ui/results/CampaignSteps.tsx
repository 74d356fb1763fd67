'use client'
import { Text } from '@chakra-ui/react'
import { type Step, stepRates } from '@/core/signals/journey'
import type { WalkedJourney } from '@/server/signals/journey'
import { UNKNOWN, useFormats } from '../format'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'

type Row = Pick<WalkedJourney['campaigns'][number], 'counts' | 'spend' | 'weakest' | 'name'>
const NOT_SEEN =
  'clicks are billed, but none of its shoppers was seen on the site: do its pages carry the tag?'

const costOf = ({ counts, spend }: Row): number | null => {
  const last = counts?.at(-1) ?? 0
  return spend && last > 0 ? spend / last : null
}
const weakestWords = ({ weakest }: Row, steps: readonly Step[]) =>
  weakest
    ? `${steps[weakest.step]!.name}${weakest.because === 'below_usual' ? ', far below the others' : ''}`
    : UNKNOWN

/** The journey by campaign: how many reached each step, what the last one cost, and each one's weakest step. */
export function CampaignSteps({
  walked: { steps, campaigns, withoutAd, currency },
}: {
  walked: WalkedJourney
}) {
  const { count, smallPercent } = useFormats()
  const networkName = useNetworkName()
  const rows: Row[] = campaigns
    .filter(c => c.counts?.some(n => n > 0) || (c.spend ?? 0) > 0)
    .map(c => ({ ...c, name: `${c.name || 'no campaign known'} · ${networkName(c.network)}` }))
  if (withoutAd) rows.push({ name: 'no ad click known', counts: withoutAd, spend: null, weakest: null })
  const columns: Column<Row>[] = [
    { id: 'campaign', words: true, width: 240, value: r => r.name },
    ...steps.map(
      (step, i): Column<Row> => ({
        id: step.id,
        heading: step.name,
        hint: 'How many reached this step, and how many of those who could.',
        none: () => NOT_SEEN,
        value: r => (r.counts ? (r.counts[i] ?? 0) : null),
        cell: r => {
          if (!r.counts) return UNKNOWN
          const rate = stepRates(steps, r.counts)[i] ?? null
          return (
            <Text as="span" color={r.weakest?.step === i ? 'alarm' : undefined}>
              {count(r.counts[i] ?? 0)}
              <Text as="span" color="quiet" display="inline-block" width="42px">
                {rate === null ? '' : smallPercent(rate)}
              </Text>
            </Text>
          )
        },
      }),
    ),
    { id: 'spend', heading: `spend, ${currency}`, value: r => r.spend, as: 'amount' },
    {
      id: 'cost',
      heading: `cost per ${steps.at(-1)?.name.toLowerCase()}`,
      value: costOf,
      as: 'amount',
      none: r => (r.counts ? 'nobody seen reached the last step' : NOT_SEEN),
      hint: 'Spend for each shopper who was seen at the last step.',
    },
    { id: 'weakest', heading: 'weakest step', words: true, value: r => weakestWords(r, steps) },
  ]
  return (
    <Section title="By campaign" label="Steps by campaign">
      <DataTable label="By campaign" columns={columns} rows={rows} rowId={r => r.name} />
    </Section>
  )
}
