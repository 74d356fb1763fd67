'use client'
import { Box } from '@chakra-ui/react'
import { causes, claimCauses, type GapCause, orderCauses } from '@/core/evidence/causes'
import type { Gap } from '@/core/evidence/gap'
import type { Scope } from '@/core/weigh/scope'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { Balance } from '../evidence/Balance'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'

interface Row {
  id: string
  name: string
  gap: Gap
  scope: Scope
  below?: Row[]
}
const countOf = (gap: Gap, cause: GapCause) => gap.causes.find(c => c.cause === cause)!.count

/** The same gap by network and campaign; every column sums to the whole. */
export function SectionTable({ view }: { view: ReconcileView }) {
  const { count } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  const most = Math.max(1, ...view.sections.map(s => Math.max(s.gap.claims, s.gap.orders)))
  const networks = view.sections.filter(s => s.campaign === null)
  const rows = networks.map(
    ({ network, gap }): Row => ({
      id: network,
      name: networkName(network),
      gap,
      scope: { network },
      below: view.sections
        .filter(s => s.campaign !== null && s.network === network)
        .map(s => ({
          id: `${network}/${s.campaign}`,
          name: s.name || 'not broken down',
          gap: s.gap,
          scope: { network, campaign: s.campaign ?? '' },
        })),
    }),
  )
  if (view.unplaced && view.unplaced.orders > 0)
    rows.push({ id: 'none', name: 'no network', gap: view.unplaced, scope: { nowhere: 'yes' } })
  const figure = (
    id: GapCause | 'orders' | 'claims' | 'matched',
    heading: string,
    value: (gap: Gap) => number,
    hint?: string,
  ): Column<Row> => ({
    id,
    heading: words(heading),
    ...(hint ? { hint: words(hint) } : {}),
    value: r => value(r.gap),
    cell: r => <FigureLink figure={id} scope={r.scope} of={r.name} shown={count(value(r.gap))} />,
  })
  const cause = (id: GapCause) => figure(id, causes[id].short, gap => countOf(gap, id), causes[id].means)
  const columns: Column<Row>[] = [
    { id: 'name', heading: 'network, campaign', words: true, wraps: true, width: 200, value: r => r.name },
    figure('claims', 'claims', gap => gap.claims),
    ...claimCauses.map(cause),
    figure('matched', 'in both', gap => gap.matched),
    {
      id: 'balance',
      heading: words('claims | orders'),
      width: 110,
      value: ({ gap }) => gap.claims - gap.orders,
      cell: ({ gap }) => (
        <Box pt="3px">
          <Balance
            claimsAlone={gap.claims - gap.matched}
            both={gap.matched}
            ordersAlone={gap.orders - gap.matched}
            most={Math.max(most, gap.claims, gap.orders)}
            height="11px"
            label={words(`${gap.claims} claims, ${gap.orders} orders, ${gap.matched} in both`)}
          />
        </Box>
      ),
    },
    ...orderCauses.map(cause),
    figure('orders', 'orders', gap => gap.orders),
  ]
  return (
    <Section title="By network and campaign" label="The gap by network and campaign">
      <DataTable
        label="By network and campaign"
        name="reconcile"
        columns={columns}
        rows={rows}
        rowId={r => r.id}
        below={r => r.below}
        belowWords={['Show campaigns', 'Networks only']}
        opened={view.sections.length <= 60}
        strong={r => r.below !== undefined}
        total={{
          id: 'all',
          name: 'Sum',
          gap: view.gap,
          scope: networks.length === 1 && !view.unplaced ? { network: networks[0]!.network } : {},
        }}
        tools
        main
      />
    </Section>
  )
}
