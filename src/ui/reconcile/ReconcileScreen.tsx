'use client'
import { Box, Flex, Table, Text } from '@chakra-ui/react'
import { causes, type GapCause, orderCauses } from '@/core/evidence/causes'
import { claimCausesIn, type Gap } from '@/core/evidence/gap'
import type { Figure } from '@/core/weigh/openings'
import type { Scope } from '@/core/weigh/scope'
import type { ReconcileView } from '@/server/compute/views/reconcile'
import { Balance } from '../evidence/Balance'
import { FigureLink } from '../evidence/PanelContext'
import { useFormats } from '../format'
import { Note, Sentence } from '../parts/Page'
import { PartNav } from '../parts/PartNav'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useNetworkName } from '../shell/NetworkNames'
import { useResultWords } from '../shell/ResultWords'
import { StandsOnNotes } from '../weigh/StandsOnNotes'
import { CauseTable } from './CauseTable'
import { DayChart } from './DayChart'
import { DayTable } from './DayTable'
import { SectionTable } from './SectionTable'
import { SharedTable } from './SharedTable'

type Capture = ReconcileView['captures'][number]

/** Reconcile: claims against orders, and the gap with its causes. */
export function ReconcileScreen({
  view,
  before,
  network,
}: {
  view: ReconcileView
  /** that of as many days before, where it is asked for */
  before: ReconcileView | null
  network: string | null
}) {
  const { count, percent } = useFormats()
  const { gap } = view
  const networkName = useNetworkName()
  const words = useResultWords()
  const scope: Scope = network ? { network } : {}
  const of = network ? networkName(network) : 'All networks'
  const orphans = gap.causes.find(c => c.cause === 'no_such_order')?.count ?? 0
  return (
    <Box px="5" py="4">
      <PartNav here="/reconcile" />
      <Sentence>
        <FigureLink figure="orders" scope={scope} of={of} shown={words(`${count(gap.orders)} orders`)} />
        {'; networks make '}
        <FigureLink figure="claims" scope={scope} of={of} shown={`${count(gap.claims)} claims`} />
        {orphans > 0 && (
          <>
            , <FigureLink figure="no_such_order" scope={scope} of={of} shown={count(orphans)} /> of them for{' '}
            {words('orders')} that are not there
          </>
        )}
        ; <FigureLink figure="matched" scope={scope} of={of} shown={count(gap.matched)} /> stand on both
        sides.
      </Sentence>
      <StandsOnNotes of={view.standsOn} />
      {before && (
        <Note>
          {words(
            `In as many days before: ${count(before.gap.orders)} orders, ${count(before.gap.claims)} claims, ${count(before.gap.matched)} on both sides.`,
          )}
        </Note>
      )}
      <Beam gap={gap} scope={scope} of={of} />
      <Flex gap="8" mt="5" align="start">
        <Box flex="1" minWidth="0">
          <DayChart days={view.days} scope={scope} of={of} />
        </Box>
        <Box width="230px" flexShrink={0} fontSize="13px">
          <Text color="quiet" mb="1">
            {words(
              'Capture rate: the share of an ad’s orders that the network reported, and that we tracked',
            )}
          </Text>
          <DataTable
            label="Capture rate by network"
            columns={[
              { id: 'network', words: true, value: c => networkName(c.network) },
              ...(
                [
                  ['reported', 'network_capture', c => c.networkCapture],
                  ['tracked', 'own_capture', c => c.ownCapture],
                ] as const satisfies [string, Figure, (c: Capture) => number | null][]
              ).map(
                ([heading, figure, value]): Column<Capture> => ({
                  id: figure,
                  heading,
                  value,
                  cell: c => (
                    <FigureLink
                      figure={figure}
                      scope={{ network: c.network }}
                      of={networkName(c.network)}
                      shown={percent(value(c))}
                    />
                  ),
                }),
              ),
            ]}
            rows={view.captures.filter(c => c.networkCapture !== null || c.ownCapture !== null)}
            rowId={c => c.network}
          />
        </Box>
      </Flex>
      <CauseTable gap={gap} before={before?.gap ?? null} scope={scope} of={of} />
      <SectionTable view={view} />
      <DayTable days={view.days} scope={scope} of={of} />
      <SharedTable shared={view.shared} got={view.got} />
    </Box>
  )
}

/** The large balance, each cause under its own side. */
function Beam({ gap, scope, of }: { gap: Gap; scope: Scope; of: string }) {
  const { money, count, currency } = useFormats()
  const words = useResultWords()
  const lineOf = (cause: string) => gap.causes.find(c => c.cause === cause)!
  const differs = lineOf('value_differs')
  const money2 = (minor: number) => money(minor)
  const side = (own: readonly GapCause[]) => (
    <Table.Root>
      <tbody>
        {own.map(cause => (
          <tr key={cause}>
            <th scope="row" data-words="" title={words(causes[cause].means)}>
              {words(causes[cause].label)}
            </th>
            <td>
              <FigureLink figure={cause} scope={scope} of={of} shown={count(lineOf(cause).count)} />
            </td>
            <td style={{ width: 110 }}>
              <FigureLink figure={cause} worth scope={scope} of={of} shown={money2(lineOf(cause).value)} />
            </td>
          </tr>
        ))}
      </tbody>
    </Table.Root>
  )
  const total = (label: string, n: number, value: number) => (
    <Flex justify="space-between" fontWeight="650" px="2" py="1">
      <span>{label}</span>
      <span>
        {count(n)} · {money2(value)} {currency}
      </span>
    </Flex>
  )
  return (
    <Box mt="4">
      <Balance
        claimsAlone={gap.claims - gap.matched}
        both={gap.matched}
        ordersAlone={gap.orders - gap.matched}
        most={Math.max(gap.claims, gap.orders)}
        height="34px"
        label={words(
          `${gap.claims} claims on the left, ${gap.orders} orders on the right, ${gap.matched} in both`,
        )}
      />
      <Flex gap="10" mt="1">
        <Box flex="1">
          <Box color="network">{total('Networks claim', gap.claims, gap.claimsValue)}</Box>
          {side(claimCausesIn([gap]))}
        </Box>
        <Box flex="1">
          <Box color="shop">
            {total(
              words('order') === 'order' ? 'The shop booked' : 'We counted',
              gap.orders,
              gap.ordersValue,
            )}
          </Box>
          {side(orderCauses)}
          <Flex justify="space-between" fontSize="13px" px="2" pt="1" color="quiet">
            <span>
              Value differs, in{' '}
              <FigureLink figure="value_differs" scope={scope} of={of} shown={count(differs.pairs ?? 0)} />{' '}
              that stand on both sides
            </span>
            <FigureLink figure="value_differs" worth scope={scope} of={of} shown={money2(differs.value)} />
          </Flex>
          <Text fontSize="12px" color="quiet" px="2" pt="2">
            {count(gap.orders)} − {count(gap.claims)} = {count(gap.orders - gap.claims)} ={' '}
            {words(
              `${count(gap.orders - gap.matched)} orders without a claim − ${count(gap.claims - gap.matched)} claims without an order.`,
            )}
          </Text>
        </Box>
      </Flex>
    </Box>
  )
}
