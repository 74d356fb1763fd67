import { Box, Fieldset, Grid, Text } from '@chakra-ui/react'
import { type ReactNode, useCallback, useState } from 'react'
import * as z from 'zod'
import {
  creditRules,
  productGroupSchema,
  type Settings,
  type SettingsChange,
  settingsSchema,
} from '@/core/intake/settings'
import type { Saved } from '@/core/shared/mergeEdit'
import { currencyExponent } from '@/core/shared/money'
import type { Settled } from '@/server/compute/views/settled'
import type { MissingRates as Missing } from '@/server/missingRates'
import { formatsOf, useFormats } from '../format'
import { type GiveRates, MissingRates } from '../intake/MissingRates'
import { AmountField } from '../parts/AmountField'
import { NumberField, SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { Note } from '../parts/Page'
import { usePreview } from '../parts/usePreview'
import { creditWords } from '../results/resultWords'
import { habitsOfWriting } from './habits'
import { MarginField } from './MarginField'
import { SettledList } from './SettledList'

const draftSchema = settingsSchema
  .pick({
    currency: true,
    time_zone: true,
    order_value: true,
    margin: true,
    credit: true,
    click_window_days: true,
    view_window_days: true,
    keep_days: true,
  })
  .extend({
    name: z.string().trim().min(1, 'give it a name').max(100),
    /** minor units */
    fee: z.int().nonnegative().optional(),
    target: z.int().positive().optional(),
    /** each group of products that is known; its fee in minor units */
    groups: z.array(
      productGroupSchema.extend({
        fee: z.int().nonnegative().optional(),
        target_cost: z.int().nonnegative().optional(),
      }),
    ),
    /** empty for each browser's own */
    locale: z.string(),
    first_weekday: z.enum(['1', '6', '7']),
  })
type Draft = z.infer<typeof draftSchema>

type Change = SettingsChange & { name?: string }
export type SettingsActions = {
  keep: (change: Change, before?: Change, over?: boolean) => Promise<Saved>
  preview: (change: SettingsChange) => Promise<{ now: Settled; changed: Settled } | null>
  /** the rates that are missing to count everything in a currency */
  missing: (currency: string) => Promise<Missing[]>
  giveRates: GiveRates
}

export const weekdayWords = { 1: 'Monday', 6: 'Saturday', 7: 'Sunday' } as Record<number, string>
export const orderValueWords = {
  gross: 'its total, less what went back',
  net: 'its total without tax and shipping, less what went back',
}

/** A group of products that orders name, with how many do. */
export interface ProductGroup {
  name: string
  orders: number
}

/** How many minor units one of a currency has. */
export const unitsOf = (currency: string) => 10 ** (currencyExponent(currency) ?? 2)
const draftOf = (name: string, settings: Settings, known: readonly ProductGroup[]): Draft => {
  const units = unitsOf(settings.currency)
  const { target_cost, fee, product_groups } = settings
  const own = new Map(product_groups.map(group => [group.name, group]))
  const groups = new Set([...known.map(group => group.name), ...own.keys()])
  return {
    ...draftSchema
      .omit({ fee: true, target: true, groups: true, locale: true, first_weekday: true, name: true })
      .parse(settings),
    name,
    groups: [...groups].map(group => {
      const { margin, fee, target_cost } = own.get(group) ?? {}
      const inUnits = (amount: number | undefined) =>
        amount === undefined ? undefined : Math.round(amount * units)
      return { name: group, margin, fee: inUnits(fee), target_cost: inUnits(target_cost) }
    }),
    fee: Math.round(fee * units) || undefined,
    target: target_cost === undefined ? undefined : Math.round(target_cost * units),
    locale: settings.locale ?? '',
    first_weekday: `${settings.first_weekday}` as Draft['first_weekday'],
  }
}

/** Of what is said about a business, the parts that are asked for together: each with the fields it keeps. */
const keeps = {
  business: ['name', 'currency', 'time_zone'],
  worth: ['order_value', 'margin', 'fee', 'target'],
  groups: ['groups'],
  counting: ['credit', 'click_window_days', 'view_window_days'],
  writing: ['locale', 'first_weekday'],
  keeping: ['keep_days'],
} as const satisfies Record<string, readonly (keyof Draft)[]>
export type SettingsPart = keyof typeof keeps

/** Whether figures of the last weeks would be others by it. */
const isCounted = (part: SettingsPart) => part === 'worth' || part === 'groups' || part === 'counting'

/** Some fields of a draft as settings are kept; null for what is to be none. */
function changeOf(draft: Draft, parts: readonly SettingsPart[], currency: string) {
  const units = unitsOf(currency)
  const all: SettingsChange & { name: string } = {
    ...draft,
    fee: (draft.fee ?? 0) / units,
    target_cost: draft.target === undefined ? null : draft.target / units,
    product_groups: draft.groups.flatMap(({ name, margin, fee, target_cost }) =>
      margin === undefined && fee === undefined && target_cost === undefined
        ? []
        : [
            {
              name,
              ...(margin !== undefined && { margin }),
              ...(fee !== undefined && { fee: fee / units }),
              ...(target_cost !== undefined && { target_cost: target_cost / units }),
            },
          ],
    ),
    locale: draft.locale || null,
    first_weekday: Number(draft.first_weekday),
    keep_days: draft.keep_days ?? null,
  }
  const names = parts.flatMap((part): string[] => [...keeps[part]])
  const kept: Record<string, string> = { target: 'target_cost', groups: 'product_groups' }
  const own = names.map(name => kept[name] ?? name)
  return Object.fromEntries(Object.entries(all).filter(([name]) => own.includes(name))) as typeof all
}

/** What is said of a business, or a part of it, with what a change would do before it is kept. */
export function SettingsForm({
  title,
  parts,
  name,
  settings,
  actions,
  close,
  kept = 'The settings are changed.',
  keepWords = 'Keep it',
  remark,
  groups = [],
}: {
  title: string
  parts: readonly SettingsPart[]
  name: string
  settings: Settings
  actions: SettingsActions
  close: () => void
  kept?: string
  keepWords?: string
  /** what somebody should know beside the fields */
  remark?: ReactNode
  /** groups of products that orders name */
  groups?: readonly ProductGroup[]
}) {
  const { tenths } = useFormats()
  const { currency } = settings
  const asks = (part: SettingsPart) => parts.includes(part)
  const changes = (typed: string) =>
    typed.toUpperCase() !== currency && currencyExponent(typed.toUpperCase()) !== null
  /** Amounts are in the currency that is typed beside them, once it is one. */
  const codeOf = (draft: Draft) => (changes(draft.currency) ? draft.currency.toUpperCase() : currency)
  const example = (tag: string) => {
    const { money, day } = formatsOf({ locale: tag, zone: 'UTC', currency, firstWeekday: 1 })
    return `${money(123456 * unitsOf(currency))} · ${day('2026-11-24')}`
  }
  return (
    <FormPanel<Draft>
      title={title}
      schema={draftSchema}
      given={draftOf(name, settings, groups)}
      shape={draft => ({ ...draft, currency: draft.currency.toUpperCase() })}
      keepWords={keepWords}
      save={(draft, before, over) =>
        actions.keep(changeOf(draft, parts, codeOf(draft)), changeOf(before, parts, codeOf(before)), over)
      }
      close={close}
      kept={kept}
    >
      {draft => (
        <>
          {asks('business') && (
            <>
              <TextField label="Name of the shop" name="name" />
              <TextField
                label="Currency"
                name="currency"
                help="three letters; amounts in others are converted by rates of their day"
              />
              <RatesInto code={draft.currency} from={currency} actions={actions} />
              <TextField
                label="Its days are in the zone"
                name="time_zone"
                suggestions={Intl.supportedValuesOf('timeZone')}
                help="such as Europe/Lisbon"
              />
            </>
          )}
          {asks('worth') && (
            <>
              <SelectField
                label="An order is worth"
                name="order_value"
                choices={Object.entries(orderValueWords)}
              />
              <MarginField
                label="Margin of an order"
                name="margin"
                help="what is left of that once goods are paid; a result may have its own"
              />
              <AmountField
                label={`Other cost per order, ${codeOf(draft)}`}
                name="fee"
                currency={codeOf(draft)}
              />
              {draft.margin > 0 && (
                <Note>
                  An order of 100 may then cost{' '}
                  {tenths(Math.max(0, draft.margin * 100 - (draft.fee ?? 0) / unitsOf(codeOf(draft))))} before
                  it loses money.
                  {draft.margin === 1 && ' At 100 % every order that costs less than its total looks well.'}
                </Note>
              )}
              <AmountField
                label={`Target cost per order, ${codeOf(draft)} (overrides break-even)`}
                name="target"
                currency={codeOf(draft)}
              />
            </>
          )}
          {asks('groups') &&
            draft.groups.map((group, i) => (
              <Fieldset.Root key={group.name} mt="3" gap="0">
                <Fieldset.Legend>{group.name}</Fieldset.Legend>
                <Grid templateColumns="1fr 1.2fr 1.2fr" columnGap="3">
                  <MarginField label="Margin" name={`groups.${i}.margin`} usual={settings.margin} />
                  <AmountField
                    label="Each costs besides"
                    name={`groups.${i}.fee`}
                    currency={currency}
                    placeholder={tenths(settings.fee)}
                  />
                  <AmountField label="One may cost" name={`groups.${i}.target_cost`} currency={currency} />
                </Grid>
              </Fieldset.Root>
            ))}
          {asks('counting') && (
            <>
              <SelectField
                label="Credit goes to"
                name="credit"
                choices={creditRules.map(rule => [rule, creditWords[rule]])}
              />
              <NumberField
                label="An ad click counts for this many days"
                name="click_window_days"
                least={1}
                most={90}
              />
              <NumberField
                label="Claims by view count for this many days, 0 for none"
                name="view_window_days"
                least={0}
                most={90}
                help="Only those of networks that look back no further: a claim does not say when the view was."
              />
            </>
          )}
          {asks('writing') && (
            <>
              <SelectField
                label="Numbers and dates are written as"
                name="locale"
                choices={[
                  ['', 'the browser writes them'],
                  ...habitsOfWriting.map(tag => [tag, example(tag)] as const),
                ]}
              />
              <SelectField
                label="Weeks begin on"
                name="first_weekday"
                choices={Object.entries(weekdayWords)}
              />
            </>
          )}
          {asks('keeping') && (
            <NumberField
              label="Page views, hops and what networks were told are kept for"
              name="keep_days"
              least={35}
              most={3650}
              placeholder="ever"
              unit="days"
              help="Empty keeps them for ever. No cost, claim or order rests on them, but journeys of older periods lose their pages; they are removed within an hour."
            />
          )}
          {remark}
          {(parts.some(isCounted) || changes(draft.currency)) && (
            <WouldCome
              change={changeOf(
                draft,
                parts.filter(part => isCounted(part) || (part === 'business' && changes(draft.currency))),
                codeOf(draft),
              )}
              preview={actions.preview}
            />
          )}
        </>
      )}
    </FormPanel>
  )
}

/** Asks for the rates without which everything cannot be counted in another currency. */
function RatesInto({ code, from, actions }: { code: string; from: string; actions: SettingsActions }) {
  const [round, setRound] = useState(0)
  const into = code.toUpperCase()
  const asked = currencyExponent(into) === null || into === from ? null : { into, round }
  const ask = useCallback(({ into }: { into: string }) => actions.missing(into), [actions.missing])
  const missing = usePreview(asked, ask)
  return (
    asked && (
      <MissingRates
        key={into}
        missing={missing ?? []}
        quote={into}
        give={actions.giveRates}
        given={() => setRound(round + 1)}
      />
    )
  )
}

/** What the last weeks would come to by what is being changed. */
export function WouldCome({
  change,
  preview,
}: {
  change: SettingsChange
  preview: SettingsActions['preview']
}) {
  const { money, tenths, count } = useFormats()
  const amount = (minor: number | null, code: string) =>
    minor === null ? money(null) : `${money(minor === null ? null : Math.round(minor), code)} ${code}`
  const told = usePreview(change, preview)
  if (!told) return null
  const { now, changed } = told
  const both = (of: (one: Settled) => string) =>
    of(now) === of(changed) ? `${of(now)}, unchanged` : `${of(now)} → ${of(changed)}`
  return (
    <Box mt="3" p="2" bg="mark" aria-live="polite" fontSize="13px">
      <Text>With this, in the last 28 days:</Text>
      <SettledList
        items={[
          ['Cost per order', both(one => amount(one.cost, one.currency))],
          ['Break-even', both(one => amount(one.line, one.currency))],
          ['Campaigns above break-even', both(one => `${count(one.over)} of ${count(one.campaigns)}`)],
          ['Ads to cut, and to raise', both(one => `${count(one.cut)}, ${count(one.raise)}`)],
          ['Orders from ads, estimated', both(one => tenths(one.estimatedTenths / 10))],
        ]}
      />
    </Box>
  )
}
