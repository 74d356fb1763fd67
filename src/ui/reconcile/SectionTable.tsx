'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { causes, claimCauses, type GapCause, orderCauses } from '@/core/evidence/causes'
import type { Gap } from '@/core/evidence/gap'
import type { Scope } from '@/core/weigh/scope'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { Balance } from '../evidence/Balance'
import { FigureLink } from '../evidence/PanelContext'
import { count } from '../format'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

/** How many campaigns of a network are shown at first, and with each further step. */
const STEP = 20

/** The same gap by network and campaign; every column sums to the whole. */
export function SectionTable({ view }: { view: ReconcileView }) {
  const networkName = useNetworkName()
  const words = useResultWords()
  const [shown, setShown] = useState<Record<string, number>>({})
  const most = Math.max(1, ...view.sections.map(s => Math.max(s.gap.claims, s.gap.orders)))
  const networks = view.sections.filter(s => s.campaign === null)
  const campaignsOf = (network: string) =>
    view.sections
      .filter(s => s.campaign !== null && s.network === network)
      .sort((a, b) => b.gap.orders - a.gap.orders)
  const row = (key: string, name: string, gap: Gap, scope: Scope, depth: number) => {
    const of = name || 'not broken down'
    const figure = (id: GapCause | 'orders' | 'claims' | 'matched', n: number) => (
      <FigureLink figure={id} scope={scope} of={of} shown={count(n)} />
    )
    const causeCount = (cause: GapCause) => gap.causes.find(c => c.cause === cause)!.count
    return (
      <tr key={key} style={{ fontWeight: depth === 0 ? 600 : 400 }}>
        <th
          scope="row"
          style={{
            paddingLeft: 8 + depth * 16,
            maxWidth: 220,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            color: 'inherit',
            fontWeight: 'inherit',
          }}
          title={of}
        >
          {of}
        </th>
        <td>{figure('claims', gap.claims)}</td>
        {claimCauses.map(cause => (
          <td key={cause}>{figure(cause, causeCount(cause))}</td>
        ))}
        <td>{figure('matched', gap.matched)}</td>
        <td style={{ width: 110 }}>
          <Balance
            claimsAlone={gap.claims - gap.matched}
            both={gap.matched}
            ordersAlone={gap.orders - gap.matched}
            most={most}
            height="11px"
            label={words(`${gap.claims} claims, ${gap.orders} orders, ${gap.matched} in both`)}
          />
        </td>
        {orderCauses.map(cause => (
          <td key={cause}>{figure(cause, causeCount(cause))}</td>
        ))}
        <td>{figure('orders', gap.orders)}</td>
      </tr>
    )
  }
  return (
    <Box mt="6" overflowX="auto" tabIndex={0} role="region" aria-label="The gap by network and campaign">
      <Text as="h2" fontSize="15px" fontWeight="650" mb="1">
        By network and campaign
      </Text>
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col" style={{ textAlign: 'left' }}>
              network, campaign
            </th>
            <th scope="col">claims</th>
            {claimCauses.map(c => (
              <th key={c} scope="col" title={words(causes[c].means)}>
                {words(causes[c].short)}
              </th>
            ))}
            <th scope="col">in both</th>
            <th scope="col">{words('claims | orders')}</th>
            {orderCauses.map(c => (
              <th key={c} scope="col" title={words(causes[c].means)}>
                {words(causes[c].short)}
              </th>
            ))}
            <th scope="col">{words('orders')}</th>
          </tr>
        </thead>
        <tbody>
          {networks.flatMap(n => [
            row(n.network, networkName(n.network), n.gap, { network: n.network }, 0),
            ...campaignsOf(n.network)
              .slice(0, shown[n.network] ?? STEP)
              .map(c =>
                row(
                  `${n.network}/${c.campaign}`,
                  c.name,
                  c.gap,
                  { network: n.network, campaign: c.campaign ?? '' },
                  1,
                ),
              ),
            <More
              key={`${n.network} more`}
              left={campaignsOf(n.network).length - (shown[n.network] ?? STEP)}
              of={networkName(n.network)}
              show={() => setShown({ ...shown, [n.network]: (shown[n.network] ?? STEP) + STEP * 5 })}
            />,
          ])}
          {view.unplaced &&
            view.unplaced.orders > 0 &&
            row('none', 'no network', view.unplaced, { nowhere: 'yes' }, 0)}
        </tbody>
        <tfoot>
          {row(
            'all',
            'Sum',
            view.gap,
            networks.length === 1 && !view.unplaced ? { network: networks[0]!.network } : {},
            0,
          )}
        </tfoot>
      </table>
    </Box>
  )
}

/** Where a network has more campaigns than are shown. */
function More({ left, of, show }: { left: number; of: string; show: () => void }) {
  const words = useResultWords()
  if (left <= 0) return null
  return (
    <tr>
      <th scope="row" colSpan={12} style={{ paddingLeft: 24 }}>
        <Button variant="plain" color="quiet" onClick={show}>
          {words(`${count(left)} more campaigns of ${of}, with fewer orders`)}
        </Button>
      </th>
    </tr>
  )
}
