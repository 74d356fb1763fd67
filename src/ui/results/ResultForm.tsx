'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useEffect, useState, useTransition } from 'react'
import { creditRules, JUDGED_RESULT, type OwnRules } from '@/core/intake/settings'
import { newId } from '@/core/shared/newId'
import { type ResultDefinition, resultKinds, resultSchema, type ValueRule } from '@/core/signals/result'
import type { Counted } from '@/server/signals/results'
import { AmountField } from '../AmountField'
import { count, money } from '../format'
import { useNetworkName } from '../shell/NetworkNames'
import { SidePanel } from '../shell/SidePanel'
import { creditWords, kindWords, leftOutWords, valueWords } from './resultWords'

const PAUSE_MS = 250

/** A rule of the same kind of value with what the form knows. */
const valueBy: Record<ValueRule['by'], (amount: number, other: number) => ValueRule> = {
  fixed: amount => ({ by: 'fixed', amount }),
  event: () => ({ by: 'event' }),
  less_fee: (amount, fee) => ({ by: 'less_fee', amount, fee }),
  lifetime: (price, periods) => ({ by: 'lifetime', price, periods: Math.max(1, periods) }),
}
const amountsOf = (value: ValueRule): [number, number] =>
  value.by === 'fixed'
    ? [value.amount, 0]
    : value.by === 'less_fee'
      ? [value.amount, value.fee]
      : value.by === 'lifetime'
        ? [value.price, value.periods]
        : [0, 0]

export interface ResultActions {
  save: (definition: ResultDefinition, isNew: boolean) => Promise<string | null>
  preview: (definition: ResultDefinition) => Promise<Counted | null>
  map: (network: string, result: string, slot: string) => Promise<void>
}

/** One result's definition, with what it would have counted last week before it is kept. */
export function ResultForm({
  given,
  others,
  rules,
  networks,
  campaigns,
  actions,
  close,
  another,
}: {
  given: ResultDefinition
  others: ResultDefinition[]
  /** the workspace's, for what it has no rule of its own for */
  rules: OwnRules
  networks: string[]
  campaigns: { network: string; id: string; name: string }[]
  actions: ResultActions
  close: () => void
  /** begins a new definition that is like one */
  another: (like: ResultDefinition) => void
}) {
  const networkName = useNetworkName()
  const [draft, setDraft] = useState(given)
  const [before, setBefore] = useState<Counted | null>(null)
  const [after, setAfter] = useState<Counted | null>(null)
  const [problem, setProblem] = useState('')
  /** fields that hold no amount */
  const [unread, setUnread] = useState<ReadonlySet<string>>(new Set())
  const [busy, start] = useTransition()
  const change = (some: Partial<ResultDefinition>) => setDraft(d => ({ ...d, ...some }))
  const keepAmount = (field: string, keep: (units: number) => void) => (units: number | null) => {
    const others = [...unread].filter(one => one !== field)
    setUnread(new Set(units === null ? [...others, field] : others))
    if (units !== null) keep(units)
  }
  const fresh = given.id === ''
  const definition = {
    ...draft,
    id: fresh
      ? newId(
          draft.name,
          others.map(o => o.id),
          'result',
        )
      : given.id,
  }
  const valid = resultSchema.safeParse(definition).success && !unread.size
  const asked = JSON.stringify(definition)
  const twin = others.find(d => d.name.trim().toLowerCase() === draft.name.trim().toLowerCase())
  const same = others.find(
    d => d.kind === draft.kind && JSON.stringify(d.value) === JSON.stringify(draft.value) && !d.archived,
  )
  const [first, second] = amountsOf(draft.value)
  const { preview } = actions
  const givenText = JSON.stringify(given)

  useEffect(() => {
    const known = resultSchema.safeParse(JSON.parse(givenText))
    if (known.success) void preview(known.data).then(setBefore)
  }, [givenText, preview])
  useEffect(() => {
    const wanted = resultSchema.safeParse(JSON.parse(asked))
    if (!wanted.success) return
    const timer = setTimeout(() => void preview(wanted.data).then(setAfter), PAUSE_MS)
    return () => clearTimeout(timer)
  }, [asked, preview])

  const said = (counted: Counted) =>
    `${count(counted.results)} worth ${money(counted.worth, draft.currency)} ${draft.currency}`
  return (
    <SidePanel title={fresh ? 'A new result' : given.name} width={360} close={close}>
      <Row label="Name">
        <input className="field" value={draft.name} onChange={e => change({ name: e.target.value })} />
      </Row>
      <Row label="Kind">
        <select
          className="field"
          value={draft.kind}
          onChange={e => change({ kind: resultKinds.find(k => k === e.target.value) ?? draft.kind })}
        >
          {resultKinds.map(kind => (
            <option key={kind} value={kind}>
              {kindWords[kind]}
            </option>
          ))}
        </select>
      </Row>
      <Row label="Worth">
        <select
          className="field"
          value={draft.value.by}
          onChange={e => change({ value: valueBy[e.target.value as ValueRule['by']](first, second) })}
        >
          {(Object.keys(valueWords) as ValueRule['by'][]).map(by => (
            <option key={by} value={by}>
              {valueWords[by]}
            </option>
          ))}
        </select>
      </Row>
      {draft.value.by !== 'event' && (
        <Amount
          label={draft.value.by === 'lifetime' ? 'Price' : 'Amount'}
          units={first}
          currency={draft.currency}
          keep={keepAmount('amount', units => change({ value: valueBy[draft.value.by](units, second) }))}
        />
      )}
      {draft.value.by === 'less_fee' && (
        <Amount
          label="Fee"
          units={second}
          currency={draft.currency}
          keep={keepAmount('fee', units => change({ value: valueBy.less_fee(first, units) }))}
        />
      )}
      {draft.value.by === 'lifetime' && (
        <Row label="Periods">
          <input
            className="field"
            type="number"
            min={0.01}
            step={0.01}
            value={second / 100}
            onChange={e =>
              change({ value: valueBy.lifetime(first, Math.round(Number(e.target.value) * 100)) })
            }
          />
        </Row>
      )}
      <Amount
        label="Nothing below"
        units={draft.minimum ?? 0}
        currency={draft.currency}
        keep={keepAmount('minimum', units => change({ minimum: units }))}
      />
      <Row label="Count">
        <select
          className="field"
          value={draft.count}
          onChange={e => change({ count: e.target.value === 'every' ? 'every' : 'once' })}
        >
          <option value="once">once for each click</option>
          <option value="every">every one</option>
        </select>
      </Row>
      <Row label="Click window">
        <OwnDays
          value={draft.click_window_days}
          usual={rules.click_window_days}
          least={1}
          keep={days => change({ click_window_days: days })}
        />
      </Row>
      {given.id === JUDGED_RESULT && (
        <>
          <Row label="View window">
            <OwnDays
              value={draft.view_window_days}
              usual={rules.view_window_days}
              least={0}
              keep={days => change({ view_window_days: days })}
            />
          </Row>
          <Row label="Credit">
            <select
              className="field"
              value={draft.credit ?? ''}
              onChange={e => change({ credit: creditRules.find(c => c === e.target.value) })}
            >
              <option value="">as for all results: {creditWords[rules.credit]}</option>
              {creditRules.map(rule => (
                <option key={rule} value={rule}>
                  {creditWords[rule]}
                </option>
              ))}
            </select>
          </Row>
        </>
      )}
      <Row label="For">
        <select
          className="field"
          multiple
          size={5}
          style={{ height: 'auto', width: 190 }}
          aria-label="Networks and campaigns, none is all"
          value={[...draft.networks, ...draft.campaigns]}
          onChange={e => {
            const chosen = [...e.target.selectedOptions].map(o => o.value)
            change({
              networks: chosen.filter(one => networks.includes(one)),
              campaigns: chosen.filter(one => !networks.includes(one)),
            })
          }}
        >
          {networks.map(network => (
            <optgroup key={network} label={networkName(network)}>
              <option value={network}>all of {networkName(network)}</option>
              {campaigns
                .filter(c => c.network === network)
                .map(({ id, name }) => (
                  <option key={id} value={`${network}/${id}`}>
                    {name}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
      </Row>

      <Box mt="3" p="2" bg="mark" aria-live="polite">
        {before && !fresh && <Text>Counted in the last seven days: {said(before)}.</Text>}
        {after ? (
          <Text fontWeight="650">
            {fresh ? 'In the last seven days it would have counted' : 'With this definition'}: {said(after)}.{' '}
            {count(after.byAds)} of them within {draft.click_window_days ?? rules.click_window_days} days of
            an ad click.
          </Text>
        ) : (
          <Text color="quiet">Give it a name to see what it would have counted last week.</Text>
        )}
        {after &&
          Object.entries(after.leftOut).map(([why, times]) => (
            <Text key={why} color="quiet">
              {count(times)} left out: {leftOutWords[why as keyof typeof leftOutWords]}.
            </Text>
          ))}
      </Box>
      {twin && <Text color="alarm">A result of this name is there already.</Text>}
      {!twin && same && fresh && (
        <Text color="network">“{same.name}” is of the same kind and worth: is it the same result?</Text>
      )}
      {problem && <Text color="alarm">{problem}</Text>}
      <Flex gap="2" mt="3">
        <button
          type="button"
          className="field press"
          disabled={busy || !valid || twin !== undefined}
          onClick={() =>
            start(async () => {
              const wrong = await actions.save(definition, fresh)
              if (wrong) setProblem(wrong)
              else close()
            })
          }
        >
          {fresh ? 'Keep the result' : 'Keep the change'}
        </button>
        {!fresh && (
          <button
            type="button"
            className="field press"
            disabled={busy}
            onClick={() =>
              start(async () => {
                await actions.save({ ...given, archived: !given.archived }, false)
                close()
              })
            }
          >
            {given.archived ? 'Take it out of the archive' : 'Archive it'}
          </button>
        )}
        {!fresh && (
          <button type="button" className="field press" onClick={() => another(given)}>
            Define one like it
          </button>
        )}
      </Flex>
    </SidePanel>
  )
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex as="label" gap="3" align="center" mt="2">
      <span style={{ width: 96, flexShrink: 0 }}>{label}</span>
      {children}
    </Flex>
  )
}

/** A rule of the result's own; left empty, the workspace's holds. */
function OwnDays({
  value,
  usual,
  least,
  keep,
}: {
  value: number | undefined
  usual: number
  least: number
  keep: (days: number | undefined) => void
}) {
  return (
    <span>
      <input
        className="field"
        type="number"
        min={least}
        max={90}
        style={{ width: 70 }}
        value={value ?? ''}
        placeholder={String(usual)}
        onChange={e => keep(e.target.value === '' ? undefined : Number(e.target.value))}
      />{' '}
      days
      {value === undefined
        ? usual === 0
          ? ', as for all results: off'
          : ', as for all results'
        : value === 0
          ? ': off'
          : ''}
    </span>
  )
}

function Amount({
  label,
  units,
  currency,
  keep,
}: {
  label: string
  units: number
  currency: string
  /** null for what is no amount */
  keep: (units: number | null) => void
}) {
  return (
    <Row label={label}>
      <AmountField units={units} currency={currency} change={read => keep(read === undefined ? 0 : read)} />
    </Row>
  )
}
