'use client'
import { Box } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { useMemo } from 'react'
import { causes, type GapCause, orderCauses } from '@/core/evidence/causes'
import { claimCausesIn, type Gap } from '@/core/evidence/gap'
import { pathKey } from '@/core/shared/path'
import type { Scope } from '@/core/weigh/scope'
import type { Section as GapSection, ReconcileView } from '@/server/compute/views/reconcile'
import { Balance } from '../evidence/Balance'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
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

/** Networks with what is below them, down to ads. */
function asTree(sections: readonly GapSection[], nameOf: (section: GapSection) => string): Row[] {
  const rows = new Map<string, Row & { below: Row[] }>()
  const roots: Row[] = []
  for (const section of sections) {
    const [network = '', campaign, ad_set, ad] = section.path
    const row = {
      id: pathKey(...section.path),
      name: nameOf(section),
      gap: section.gap,
      scope: {
        network,
        ...(campaign !== undefined && { campaign }),
        ...(ad_set !== undefined && { ad_set }),
        ...(ad !== undefined && { ad }),
      },
      below: [],
    }
    rows.set(row.id, row)
    const above = rows.get(pathKey(...section.path.slice(0, -1)))
    if (section.path.length === 1) roots.push(row)
    else above?.below?.push(row)
  }
  return roots
}

/** The same gap by network, campaign, ad set and ad; every column sums to the whole. */
export function SectionTable({ view }: { view: ReconcileView }) {
  const { count } = useFormats()
  const networkName = useNetworkName()
  const words = useResultWords()
  const address = useSearchParams().toString()
  const { answer: below, problem } = useServer<GapSection[]>(`/api/reconcile/below?${address}`)
  const networks = view.sections.filter(s => s.path.length === 1)
  const most = Math.max(1, ...networks.map(s => Math.max(s.gap.claims, s.gap.orders)))
  const rows = useMemo(() => {
    const all = [...view.sections, ...(below ?? [])].sort((a, b) => a.path.length - b.path.length)
    const tree = asTree(all, s =>
      s.path.length === 1 ? networkName(s.path[0]!) : s.name || 'not broken down',
    )
    if (view.unplaced && view.unplaced.orders > 0)
      tree.push({ id: 'none', name: 'no network', gap: view.unplaced, scope: { nowhere: 'yes' } })
    return tree
  }, [view, below, networkName])
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
    {
      id: 'name',
      heading: 'network, campaign, ad',
      words: true,
      wraps: true,
      width: 220,
      value: r => r.name,
    },
    figure('claims', 'claims', gap => gap.claims),
    ...claimCausesIn([...view.sections, ...(below ?? [])].map(section => section.gap)).map(cause),
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
    <Section title="By network, campaign, ad set and ad" label="The gap by network, campaign, ad set and ad">
      <DataTable
        label="By network, campaign, ad set and ad"
        name="reconcile"
        columns={columns}
        rows={rows}
        rowId={r => r.id}
        below={r => r.below}
        belowWords={['Show every ad', 'Networks only']}
        opened={view.sections.length <= 60 ? networks.map(s => pathKey(...s.path)) : false}
        strong={r => r.scope.campaign === undefined}
        still={problem ?? (below ? '' : 'Ad sets and ads follow …')}
        total={{
          id: 'all',
          name: 'Sum',
          gap: view.gap,
          scope: networks.length === 1 && !view.unplaced ? { network: networks[0]!.path[0]! } : {},
        }}
        tools
        main
      />
    </Section>
  )
}
