'use client'
import { Box, Text } from '@chakra-ui/react'
import { type Step, stepRates } from '@/core/signals/journey'
import type { Walked, WalkedJourney } from '@/server/signals/journey'
import { count, money, smallPercent, UNKNOWN } from '../format'
import { useNetworkName } from '../shell/NetworkNames'

/** The journey by campaign: how many reached each step, what the last one cost, and each one's weakest step. */
export function CampaignSteps({
  walked: { steps, campaigns, withoutAd, currency },
}: {
  walked: WalkedJourney
}) {
  const networkName = useNetworkName()
  const rows = campaigns.filter(c => c.counts.some(n => n > 0) || (c.spend ?? 0) > 0)
  return (
    <Box as="section" mt="6" aria-label="By campaign" overflowX="auto" tabIndex={0}>
      <Text as="h2" fontSize="16px" fontWeight="650">
        By campaign
      </Text>
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">campaign</th>
            {steps.map(step => (
              <th key={step.id} scope="col">
                {step.name}
              </th>
            ))}
            <th scope="col">spend, {currency}</th>
            <th scope="col">cost per {steps.at(-1)?.name.toLowerCase()}</th>
            <th scope="col" style={{ textAlign: 'left' }}>
              weakest step
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(row => (
            <Row
              key={`${row.network}/${row.campaign}`}
              name={`${row.name || 'no campaign known'} · ${networkName(row.network)}`}
              row={row}
              steps={steps}
              currency={currency}
            />
          ))}
          {withoutAd && (
            <Row
              name="no ad click known"
              row={{ counts: withoutAd, spend: null, weakest: null }}
              steps={steps}
              currency={currency}
            />
          )}
        </tbody>
      </table>
    </Box>
  )
}

function Row({
  name,
  row: { counts, spend, weakest },
  steps,
  currency,
}: {
  name: string
  row: Walked
  steps: readonly Step[]
  currency: string
}) {
  const rates = stepRates(steps, counts)
  const last = counts.at(-1) ?? 0
  return (
    <tr>
      <th scope="row" style={{ maxWidth: 240, overflow: 'hidden', textOverflow: 'ellipsis' }} title={name}>
        {name}
      </th>
      {counts.map((reached, i) => (
        <td
          key={steps[i]!.id}
          style={{ color: weakest?.step === i ? 'var(--chakra-colors-alarm)' : undefined }}
        >
          {count(reached)}
          <Text as="span" color="quiet" display="inline-block" width="42px">
            {rates[i] === null ? '' : smallPercent(rates[i]!)}
          </Text>
        </td>
      ))}
      <td>{money(spend, currency)}</td>
      <td>{spend && last > 0 ? money(spend / last, currency) : UNKNOWN}</td>
      <td style={{ textAlign: 'left' }}>
        {weakest
          ? `${steps[weakest.step]!.name}${weakest.because === 'below_usual' ? ', far below the others' : ''}`
          : UNKNOWN}
      </td>
    </tr>
  )
}
