'use client'
import { Button, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { type ReactNode, useMemo, useState } from 'react'
import type { OwnRules } from '@/core/intake/settings'
import type { ResultDefinition } from '@/core/signals/result'
import type { DescribedResults, SignalCell } from '@/server/signals/results'
import { useFormats } from '../format'
import { words } from '../help/words'
import { CheckField } from '../parts/CheckField'
import { TextField } from '../parts/Fields'
import { Note, Page } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useSending } from '../parts/useSending'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { PulseMark } from './PulseMark'
import type { ResultActions } from './ResultForm'
import { worthWords } from './resultWords'

const ResultForm = dynamic(() => import('./ResultForm').then(m => m.ResultForm), { ssr: false })

type Described = DescribedResults['results'][number]

/** Results: what counts for the business, what it is worth, and who hears of it. */
export function ResultsScreen({
  described: { results, networks, unmapped },
  rules,
  now,
  actions,
  alarms,
  campaigns,
}: {
  described: DescribedResults
  rules: OwnRules
  now: number
  actions: ResultActions
  /** what was not as usual in the period */
  alarms: ReactNode
  campaigns: { network: string; id: string; name: string }[]
}) {
  const formats = useFormats()
  const { count, money, currency, zone } = formats
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
  const define = (like: ResultDefinition | null) => {
    setModel(like)
    setChosen('')
  }
  const heard = shown.filter(r => r.lastWeek.results > 0)
  const columns = useMemo<Column<Described>[]>(
    () => [
      {
        id: 'result',
        words: true,
        value: r => r.definition.name,
        cell: ({ definition: { id, name } }) => (
          <Button variant="plain" fontWeight="650" color="ink" onClick={() => setChosen(id)}>
            {name}
          </Button>
        ),
      },
      { id: 'worth', words: true, value: r => worthWords(r.definition, formats) },
      {
        id: 'week',
        heading: 'last 7 days',
        value: r => r.lastWeek.results,
        cell: ({ definition: { kind, id, currency }, lastWeek }) => (
          <>
            <WordLink
              href={`/intake?kind=${kind === 'order' ? 'order' : 'event'}&result=${id}`}
              title="Open what it was counted from"
            >
              {count(lastWeek.results)}
            </WordLink>{' '}
            · {money(lastWeek.worth, currency)}
          </>
        ),
      },
      ...['Aequant', ...networks.map(n => n.id)].map((receiver): Column<Described> => {
        const cellOf = (r: Described) => r.cells.find(c => c.receiver === receiver)
        return {
          id: receiver,
          heading: networkName(receiver),
          hint:
            receiver === 'Aequant'
              ? words.Aequant
              : 'What this network calls the result, how it is told, and the pulse of that.',
          words: true,
          wraps: true,
          width: 132,
          value: r => cellOf(r)?.slot ?? cellOf(r)?.by ?? null,
          cell: r => {
            const cell = cellOf(r)
            return (
              cell && (
                <Cell
                  key={cell.slot}
                  cell={cell}
                  slots={networks.find(n => n.id === receiver)?.slots ?? []}
                  result={r.definition}
                  now={now}
                  map={actions.map}
                />
              )
            )
          },
        }
      }),
    ],
    [networks, networkName, now, zone, actions.map],
  )
  return (
    <Page
      at="/results"
      says={
        heard.length === 0
          ? 'Nothing that counts came about in the last seven days. Orders count already; say what else does, such as a booklet asked for or a call, and what each is worth.'
          : `In the last seven days ${heard.map(r => `${count(r.lastWeek.results)} × ${r.definition.name.toLowerCase()} worth ${money(r.lastWeek.worth, r.definition.currency)} ${r.definition.currency}`).join(', ')}.`
      }
      actions={
        <>
          <Button onClick={() => define(null)}>Define a result</Button>
          <CheckField label="with archived ones" value={archived} change={setArchived} />
        </>
      }
      beside={
        chosen !== null && (
          <ResultForm
            key={chosen + (model?.id ?? '')}
            given={editing ?? (model ? { ...model, id: '', name: `${model.name}, another` } : empty)}
            others={results.map(r => r.definition).filter(d => d.id !== chosen)}
            rules={rules}
            networks={networks.map(n => n.id)}
            campaigns={campaigns}
            actions={actions}
            close={() => setChosen(null)}
            another={define}
          />
        )
      }
    >
      <DataTable
        label="Signal map"
        columns={columns}
        rows={shown}
        rowId={r => r.definition.id}
        enter={r => setChosen(r.definition.id)}
        quiet={r => r.definition.archived}
        chosen={chosen}
        main
      />
      {alarms}
      {unmapped.length > 0 && (
        <Note>
          Networks also report {unmapped.map(u => `“${u.conversion}” (${networkName(u.network)})`).join(', ')}
          : write each beside the result that it stands for.
        </Note>
      )}
    </Page>
  )
}

/** How one receiver hears of a result: the name under which, and its pulse. */
function Cell({
  cell,
  slots,
  result,
  now,
  map,
}: {
  cell: SignalCell
  /** the event types that the network has */
  slots: string[]
  result: ResultDefinition
  now: number
  map: ResultActions['map']
}) {
  const networkName = useNetworkName()
  const [slot, setSlot] = useState(cell.slot ?? '')
  const [busy, send] = useSending()
  const keep = () => {
    if (slot.trim() !== (cell.slot ?? '')) send(() => map(cell.receiver, result.id, slot.trim()))
  }
  const also = [
    cell.generic && `generic: here “${result.name}”`,
    cell.ways.length > 0 && `by ${cell.ways.join(', ')}`,
  ].filter(Boolean)
  return (
    <>
      {cell.receiver === 'Aequant' || (cell.slot === null && cell.by !== null) ? (
        <Text fontSize="12px">{cell.by ?? 'no rule tells of it'}</Text>
      ) : (
        <TextField
          unseen
          label={`${result.name} at ${networkName(cell.receiver)}`}
          suggestions={slots}
          placeholder="not mapped"
          value={slot}
          disabled={busy}
          change={setSlot}
          left={keep}
          enter={keep}
          input={{ size: 'xs' }}
        />
      )}
      {also.map(words => (
        <Text key={String(words)} fontSize="12px" color="quiet">
          {words}
        </Text>
      ))}
      {cell.by !== null && <PulseMark cell={cell} now={now} />}
      {cell.shares.length > 0 && (
        <Text fontSize="12px" color="alarm">
          also stands for {cell.shares.join(', ')}
        </Text>
      )}
    </>
  )
}
