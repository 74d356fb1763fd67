import { Text } from '@chakra-ui/react'
import * as z from 'zod'
import {
  creditRules,
  type OwnRules,
  type Settings,
  type SettingsChange,
  settingsSchema,
} from '@/core/intake/settings'
import { currencyExponent } from '@/core/shared/money'
import { formatsOf } from '../format'
import { AmountField } from '../parts/AmountField'
import { NumberField, SelectField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { Note } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { creditWords } from '../results/resultWords'

const draftSchema = settingsSchema
  .pick({ credit: true, click_window_days: true, view_window_days: true, margin: true })
  .extend({
    /** minor units */
    target: z.int().positive().optional(),
    /** empty for each browser's own */
    locale: z.string(),
    first_weekday: z.enum(['1', '6', '7']),
  })
type Draft = z.infer<typeof draftSchema>

/** Habits of writing that differ in what people see. */
const habits = ['en-GB', 'en-US', 'de-DE', 'fr-FR', 'de-CH', 'sv-SE', 'ja-JP']
const weekdays = [
  ['1', 'Monday'],
  ['7', 'Sunday'],
  ['6', 'Saturday'],
] as const

/** The rules by which everything is counted, window, credit, margin, a target; and how figures are written. */
export function CountingPanel({
  settings,
  judged,
  keep,
  close,
}: {
  /** the workspace's, for results that have none of their own */
  settings: Settings
  /** those by which the judged result is counted */
  judged: OwnRules
  keep: (change: SettingsChange) => Promise<string | null>
  close: () => void
}) {
  const { currency, target_cost, credit, click_window_days, view_window_days, margin, locale } = settings
  const units = 10 ** (currencyExponent(currency) ?? 2)
  const own = [
    judged.credit !== credit && creditWords[judged.credit],
    judged.click_window_days !== click_window_days && `clicks ${judged.click_window_days} days`,
    judged.view_window_days !== view_window_days && `views ${judged.view_window_days} days`,
  ].filter(rule => rule !== false)
  const example = (tag: string) => {
    const { money, day } = formatsOf({ locale: tag, zone: 'UTC', currency, firstWeekday: 1 })
    return `${money(123456 * units)} · ${day('2026-11-24')}`
  }
  const given: Draft = {
    credit,
    click_window_days,
    view_window_days,
    margin,
    target: target_cost === undefined ? undefined : Math.round(target_cost * units),
    locale: locale ?? '',
    first_weekday: `${settings.first_weekday}` as Draft['first_weekday'],
  }
  const settingsOf = ({ target, locale, first_weekday, ...rules }: Draft): SettingsChange => ({
    ...rules,
    target_cost: target === undefined ? null : target / units,
    locale: locale || null,
    first_weekday: Number(first_weekday),
  })
  return (
    <FormPanel
      title="How results are counted"
      schema={draftSchema}
      given={given}
      keepWords="Count by these"
      save={draft => keep(settingsOf(draft))}
      close={close}
      kept="Results are counted otherwise now."
    >
      {() => (
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
          {own.length > 0 && (
            <Text mt="2">
              Orders have a rule of their own under <WordLink href="/results">Results</WordLink>:{' '}
              {own.join(', ')}.
            </Text>
          )}
          <NumberField
            label="Margin of an order"
            name="margin"
            least={1}
            most={100}
            step={0.1}
            scale={0.01}
            unit="%"
            help="The line is an order’s average value times this."
          />
          <AmountField
            label={`Target cost per result, ${currency} (overrides the line)`}
            name="target"
            currency={currency}
          />
          <SelectField
            label="Numbers and dates are written as"
            name="locale"
            choices={[['', 'the browser writes them'], ...habits.map(tag => [tag, example(tag)] as const)]}
          />
          <SelectField label="Weeks begin on" name="first_weekday" choices={weekdays} />
          <Note>All figures change with these, of every period; nothing that is stored does.</Note>
        </>
      )}
    </FormPanel>
  )
}
