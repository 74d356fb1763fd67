'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { type ReactNode, useState, useTransition } from 'react'
import type { OwnRules } from '@/core/intake/settings'
import type { ResultDefinition } from '@/core/signals/result'
import type { DescribedResults, SignalCell } from '@/server/signals/results'
import { count, money } from '../format'
import { useNetworkName } from '../shell/NetworkNames'
import { PartNav } from '../shell/PartNav'
import { PulseMark } from './PulseMark'
import { type ResultActions, ResultForm } from './ResultForm'
import { worthWords } from './resultWords'

/** Results: what counts for the business, what it is worth, and who hears of it. */
export function ResultsScreen({
  described: { results, networks, unmapped },
  currency,
  rules,
  now,
  zone,
  actions,
  alarms,
  campaigns,
}: {
  described: DescribedResults
  currency: string
  rules: OwnRules
  now: number
  zone: string
  actions: ResultActions
  /** what was not as usual in the period */
  alarms: ReactNode
  campaigns: { network: string; id: string; name: string }[]
}) {
  const networkName = useNetworkName()
  const [chosen, setChosen] = useState<string | null>(null)
  const [archived, setArchived] = useState(false)
  /** the definition that a new one is like */
  const [model, setModel] = useState<ResultDefinition | null>(null)
  const shown = results.filter(r => archived || !r.definition.archived)
  const editing = results.find(r => r.definition.id === chosen)?.definition
  const empty: ResultDefinition = {
    id: '',
    name: '',
    kind: 'lead',
    currency,
    value: { by: 'fixed', amount: 0 },
    count: 'once',
    networks: [],
    campaigns: [],
    archived: false,
  }
  const heard = shown.filter(r => r.lastWeek.results > 0)
  return (
    <Flex height="100%">
      <Box flex="1" minWidth="0" overflowY="auto" px="5" pt="4" pb="8">
        <PartNav here="/results" />
        <Text as="h1" fontSize="19px">
          {heard.length === 0
            ? 'Nothing that counts came about in the last seven days. Orders count already; say what else does, such as a booklet asked for or a call, and what each is worth.'
            : `In the last seven days ${heard.map(r => `${count(r.lastWeek.results)} × ${r.definition.name.toLowerCase()} worth ${money(r.lastWeek.worth, r.definition.currency)} ${r.definition.currency}`).join(', ')}.`}
        </Text>
        <Box overflowX="auto" mt="3" tabIndex={0} role="region" aria-label="Signal map">
          <table className="ledger">
            <thead>
              <tr>
                <th scope="col" style={{ textAlign: 'left' }}>
                  result
                </th>
                <th scope="col" style={{ textAlign: 'left' }}>
                  worth
                </th>
                <th scope="col">last 7 days</th>
                {['Aequant', ...networks.map(n => n.id)].map(receiver => (
                  <th key={receiver} scope="col" style={{ textAlign: 'left' }}>
                    {networkName(receiver)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {shown.map(({ definition, lastWeek, cells }) => (
                <tr key={definition.id} style={{ opacity: definition.archived ? 0.6 : 1 }}>
                  <th scope="row" style={{ verticalAlign: 'top' }}>
                    <button
                      type="button"
                      style={{ cursor: 'pointer', textDecoration: 'underline', fontWeight: 650 }}
                      aria-expanded={chosen === definition.id}
                      onClick={() => setChosen(definition.id)}
                    >
                      {definition.name}
                    </button>
                  </th>
                  <td style={{ textAlign: 'left', verticalAlign: 'top' }}>{worthWords(definition)}</td>
                  <td style={{ verticalAlign: 'top' }}>
                    <Link
                      href={`/intake?kind=${definition.kind === 'order' ? 'order' : 'event'}&result=${definition.id}`}
                      style={{ textDecoration: 'underline' }}
                      title="Open what it was counted from"
                    >
                      {count(lastWeek.results)}
                    </Link>{' '}
                    · {money(lastWeek.worth, definition.currency)}
                  </td>
                  {cells.map(cell => (
                    <td
                      key={cell.receiver}
                      style={{
                        textAlign: 'left',
                        verticalAlign: 'top',
                        minWidth: 128,
                        maxWidth: 140,
                        whiteSpace: 'normal',
                      }}
                    >
                      <Cell
                        cell={cell}
                        slots={networks.find(n => n.id === cell.receiver)?.slots ?? []}
                        result={definition}
                        now={now}
                        zone={zone}
                        map={actions.map}
                      />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </Box>
        {alarms}
        {unmapped.length > 0 && (
          <Text fontSize="13px" color="quiet" mt="2" maxWidth="62rem">
            Networks also report{' '}
            {unmapped.map(u => `“${u.conversion}” (${networkName(u.network)})`).join(', ')}: write each beside
            the result that it stands for.
          </Text>
        )}
        <Flex gap="3" mt="4" fontSize="13px" align="center">
          <button
            type="button"
            className="field press"
            onClick={() => {
              setModel(null)
              setChosen('')
            }}
          >
            Define a result
          </button>
          <label>
            <input type="checkbox" checked={archived} onChange={event => setArchived(event.target.checked)} />{' '}
            with archived ones
          </label>
        </Flex>
      </Box>
      {chosen !== null && (
        <ResultForm
          key={chosen + (model?.id ?? '')}
          given={editing ?? (model ? { ...model, id: '', name: `${model.name}, another` } : empty)}
          others={results.map(r => r.definition).filter(d => d.id !== chosen)}
          rules={rules}
          networks={networks.map(n => n.id)}
          campaigns={campaigns}
          actions={actions}
          close={() => setChosen(null)}
          another={like => {
            setModel(like)
            setChosen('')
          }}
        />
      )}
    </Flex>
  )
}

/** How one receiver hears of a result: the name under which, and its pulse. */
function Cell({
  cell,
  slots,
  result,
  now,
  zone,
  map,
}: {
  cell: SignalCell
  /** the event types that the network has */
  slots: string[]
  result: ResultDefinition
  now: number
  zone: string
  map: ResultActions['map']
}) {
  const networkName = useNetworkName()
  const [slot, setSlot] = useState(cell.slot ?? '')
  const [busy, start] = useTransition()
  return (
    <>
      {cell.receiver === 'Aequant' || (cell.slot === null && cell.by !== null) ? (
        <Text fontSize="12px">{cell.by ?? 'no rule tells of it'}</Text>
      ) : (
        <input
          className="field"
          style={{ width: '100%', height: 24, fontSize: 12 }}
          aria-label={`${result.name} at ${networkName(cell.receiver)}`}
          list={`slots-${cell.receiver}-${result.id}`}
          placeholder="not mapped"
          value={slot}
          disabled={busy}
          onChange={event => setSlot(event.target.value)}
          onKeyDown={event => event.key === 'Enter' && event.currentTarget.blur()}
          onBlur={() =>
            slot.trim() !== (cell.slot ?? '') && start(() => map(cell.receiver, result.id, slot.trim()))
          }
        />
      )}
      <datalist id={`slots-${cell.receiver}-${result.id}`}>
        {slots.map(slot => (
          <option key={slot} value={slot} />
        ))}
      </datalist>
      {cell.generic && (
        <Text fontSize="12px" color="quiet">
          generic: here “{result.name}”
        </Text>
      )}
      {cell.ways.length > 0 && (
        <Text fontSize="12px" color="quiet">
          by {cell.ways.join(', ')}
        </Text>
      )}
      {cell.by !== null && <PulseMark cell={cell} now={now} zone={zone} />}
      {cell.shares.length > 0 && (
        <Text fontSize="12px" color="alarm">
          also stands for {cell.shares.join(', ')}
        </Text>
      )}
    </>
  )
}
