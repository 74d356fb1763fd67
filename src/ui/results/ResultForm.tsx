'use client'
import { Box, Button, Field, NativeSelect, Text } from '@chakra-ui/react'
import * as z from 'zod'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { creditRules, type OwnRules } from '@/core/intake/settings'
import type { Saved } from '@/core/shared/mergeEdit'
import { newId } from '@/core/shared/newId'
import { type ResultDefinition, resultKinds, resultSchema, type ValueRule } from '@/core/signals/result'
import type { Counted } from '@/server/signals/results'
import { useFormats } from '../format'
import { AmountField } from '../parts/AmountField'
import { NumberField, SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { undoable } from '../parts/undo'
import { usePreview } from '../parts/usePreview'
import { useSending } from '../parts/useSending'
import { MarginField } from '../settings/MarginField'
import { useNetworkName } from '../shell/NetworkNames'
import { LaterWorthPart } from './LaterWorthPart'
import { creditWords, kindWords, leftOutWords, valueWords } from './resultWords'

/** A rule of another kind of value with what the one before knew. */
function valueBy(by: ValueRule['by'], before: ValueRule): ValueRule {
  const amount = 'amount' in before ? before.amount : 'price' in before ? before.price : 0
  switch (by) {
    case 'fixed':
      return { by, amount }
    case 'event':
      return { by }
    case 'less_fee':
      return { by, amount, fee: 0 }
    case 'lifetime':
      return { by, price: amount, periods: 100 }
  }
}

export interface ResultActions {
  save: (
    definition: ResultDefinition,
    isNew: boolean,
    before?: ResultDefinition,
    over?: boolean,
  ) => Promise<Saved>
  preview: (definition: ResultDefinition) => Promise<Counted | null>
  map: (network: string, result: string, slot: string) => Promise<void>
}
/** A new result has no ID before it has a name. */
const formSchema = resultSchema.extend({ id: z.string() })

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
  const fresh = given.id === ''
  const [busy, send] = useSending()
  const usual = (days: number) => (days === 0 ? ', as for all results: off' : ', as for all results')
  const unitOf = (own: number | undefined, days: number) =>
    `days${own === undefined ? usual(days) : own === 0 ? ': off' : ''}`
  const identified = (draft: ResultDefinition): ResultDefinition => ({
    ...draft,
    id: fresh
      ? newId(
          draft.name,
          others.map(o => o.id),
          'result',
        )
      : given.id,
  })
  const archive = () =>
    send(async () => {
      await actions.save({ ...given, archived: !given.archived }, false)
      undoable(`“${given.name}” is ${given.archived ? 'out of' : 'in'} the archive.`, () =>
        actions.save(given, false),
      )
      close()
    })
  return (
    <FormPanel
      title={fresh ? 'A new result' : given.name}
      schema={formSchema}
      given={given}
      keepWords={fresh ? 'Keep the result' : 'Keep the change'}
      save={(draft, before, over) =>
        actions.save(identified(draft), fresh, fresh ? undefined : identified(before), over)
      }
      close={close}
      kept={!fresh && `“${given.name}” is changed.`}
      blocked={draft =>
        others.some(d => d.name.trim().toLowerCase() === draft.name.trim().toLowerCase()) &&
        'A result of this name is there already.'
      }
      also={
        !fresh && (
          <>
            <Button disabled={busy} onClick={archive}>
              {given.archived ? 'Take it out of the archive' : 'Archive it'}
            </Button>
            <Button onClick={() => another(given)}>Define one like it</Button>
          </>
        )
      }
    >
      {(draft, form) => {
        const { value, currency } = draft
        const like = others.find(
          d => d.kind === draft.kind && JSON.stringify(d.value) === JSON.stringify(value) && !d.archived,
        )
        return (
          <>
            <TextField beside label="Name" name="name" />
            <SelectField
              beside
              label="Kind"
              name="kind"
              choices={resultKinds.map(kind => [kind, kindWords[kind]])}
            />
            <SelectField
              beside
              label="Worth"
              value={value.by}
              change={by =>
                form.setValue('value', valueBy(by as ValueRule['by'], value), { shouldDirty: true })
              }
              choices={Object.entries(valueWords)}
            />
            {value.by === 'lifetime' ? (
              <>
                <AmountField beside label="Price" name="value.price" currency={currency} empty={0} />
                <NumberField
                  beside
                  label="Periods"
                  name="value.periods"
                  least={0.01}
                  step={0.01}
                  scale={100}
                />
              </>
            ) : (
              value.by !== 'event' && (
                <AmountField
                  beside
                  key={value.by === 'fixed' && value.measured ? `measured ${value.amount}` : value.by}
                  label="Amount"
                  name="value.amount"
                  currency={currency}
                  empty={0}
                />
              )
            )}
            {value.by === 'fixed' && !fresh && given.id !== JUDGED_RESULT && (
              <LaterWorthPart
                result={given.id}
                currency={currency}
                take={next => form.setValue('value', next, { shouldDirty: true })}
              />
            )}
            {value.by === 'less_fee' && (
              <AmountField beside label="Fee" name="value.fee" currency={currency} empty={0} />
            )}
            <AmountField beside label="Nothing below" name="minimum" currency={currency} empty={0} />
            <SelectField
              beside
              label="Count"
              name="count"
              choices={[
                ['once', 'once for each click'],
                ['every', 'every one'],
              ]}
            />
            <MarginField
              beside
              label="Margin"
              name="margin"
              usual={rules.margin}
              unit={`%${draft.margin === undefined ? ', as for all results' : ''}`}
            />
            <AmountField beside label="Costs besides" name="fee" currency={currency} />
            <AmountField beside label="One may cost" name="target" currency={currency} />
            <NumberField
              beside
              label="Click window"
              name="click_window_days"
              least={1}
              most={90}
              placeholder={String(rules.click_window_days)}
              unit={unitOf(draft.click_window_days, rules.click_window_days)}
            />
            {given.id === JUDGED_RESULT && (
              <>
                <NumberField
                  beside
                  label="View window"
                  name="view_window_days"
                  least={0}
                  most={90}
                  placeholder={String(rules.view_window_days)}
                  unit={unitOf(draft.view_window_days, rules.view_window_days)}
                />
                <SelectField
                  beside
                  label="Credit"
                  value={draft.credit ?? ''}
                  change={rule =>
                    form.setValue(
                      'credit',
                      creditRules.find(c => c === rule),
                      { shouldDirty: true },
                    )
                  }
                  choices={[
                    ['', `as for all results: ${creditWords[rules.credit]}`],
                    ...creditRules.map(rule => [rule, creditWords[rule]] as const),
                  ]}
                />
              </>
            )}
            <Field.Root orientation="horizontal" mt="2">
              <Field.Label>For</Field.Label>
              <NativeSelect.Root width="190px">
                <NativeSelect.Field
                  multiple
                  height="auto"
                  pe="1"
                  aria-label="Networks and campaigns, none is all"
                  value={[...draft.networks, ...draft.campaigns] as never}
                  onChange={event => {
                    const chosen = [...event.target.selectedOptions].map(o => o.value)
                    const isNetwork = (one: string) => networks.includes(one)
                    form.setValue('networks', chosen.filter(isNetwork), { shouldDirty: true })
                    form.setValue(
                      'campaigns',
                      chosen.filter(one => !isNetwork(one)),
                      { shouldDirty: true },
                    )
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
                </NativeSelect.Field>
              </NativeSelect.Root>
            </Field.Root>
            <WouldCount
              given={fresh ? null : given}
              wanted={identified(draft)}
              windowDays={draft.click_window_days ?? rules.click_window_days}
              preview={actions.preview}
            />
            {like && fresh && (
              <Text color="network">“{like.name}” is of the same kind and worth: is it the same result?</Text>
            )}
          </>
        )
      }}
    </FormPanel>
  )
}

/** What a definition would have counted last week, beside what the one that is kept counted. */
function WouldCount({
  given,
  wanted,
  windowDays,
  preview,
}: {
  given: ResultDefinition | null
  wanted: ResultDefinition
  windowDays: number
  preview: ResultActions['preview']
}) {
  const { count, money } = useFormats()
  const whole = resultSchema.safeParse(wanted)
  const before = usePreview(given, preview)
  const after = usePreview(whole.success ? whole.data : null, preview)
  const said = ({ results, worth }: Counted) =>
    `${count(results)} worth ${money(worth, wanted.currency)} ${wanted.currency}`
  return (
    <Box mt="3" p="2" bg="mark" aria-live="polite">
      {before && <Text>Counted in the last seven days: {said(before)}.</Text>}
      {after ? (
        <Text fontWeight="650">
          {given ? 'With this definition' : 'In the last seven days it would have counted'}: {said(after)}.{' '}
          {count(after.byAds)} of them within {windowDays} days of an ad click.
        </Text>
      ) : (
        <Text color="quiet">Give it a name to see what it would have counted last week.</Text>
      )}
      {Object.entries(after?.leftOut ?? {}).map(([why, times]) => (
        <Text key={why} color="quiet">
          {count(times)} left out: {leftOutWords[why as keyof typeof leftOutWords]}.
        </Text>
      ))}
    </Box>
  )
}
