'use client'
import { Button } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import type { Settings } from '@/core/intake/settings'
import type { ResultDefinition } from '@/core/signals/result'
import { useFormats } from '../format'
import { Note, Page, Section } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { creditWords, kindWords } from '../results/resultWords'
import {
  orderValueWords,
  type ProductGroup,
  type SettingsActions,
  SettingsForm,
  type SettingsPart,
  unitsOf,
  weekdayWords,
} from './SettingsForm'
import { SettledList } from './SettledList'

const titles: Record<SettingsPart, string> = {
  business: 'The business',
  worth: 'What an order is worth',
  groups: 'Margins by group of products',
  counting: 'How results are counted',
  writing: 'How figures are written',
  keeping: 'What is kept',
}

/** Settings: what is said of a business once, and holds everywhere. */
export function BusinessScreen({
  name,
  settings,
  results,
  groups,
  idle,
  actions,
}: {
  name: string
  settings: Settings
  /** results with a margin or a fee of their own */
  results: readonly ResultDefinition[]
  /** groups of products that orders name */
  groups: readonly ProductGroup[]
  /** how many records no figure stands on */
  idle: number
  actions: SettingsActions
}) {
  const { currency, margin, target_cost, fee } = settings
  const { count, money } = useFormats()
  const [open, setOpen] = useState<SettingsPart | null>(null)
  const percent = (of: number) => `${Math.round(of * 1000) / 10} %`
  const amount = (of: number) => `${money(Math.round(of * unitsOf(currency)))} ${currency}`
  const said: Record<SettingsPart, readonly (readonly [string, ReactNode])[]> = {
    business: [
      ['Name', name],
      ['Everything is counted in', currency],
      ['Days are in the zone', settings.time_zone],
    ],
    worth: [
      ['An order is worth', orderValueWords[settings.order_value]],
      ['Margin', percent(margin)],
      ...results.map(
        ({ name: of, kind, margin: own = margin, fee: besides, currency: its }): [string, ReactNode] => [
          `Margin of ${of}`,
          `${percent(own)}${besides ? ` less ${money(besides, its)} ${its}` : ''}, ${kindWords[kind]}`,
        ],
      ),
      ['Besides, every order costs', fee ? amount(fee) : 'nothing'],
      [
        'Target cost per order',
        target_cost === undefined
          ? 'none: the line is what an order leaves'
          : `${amount(target_cost)}, in place of the line`,
      ],
    ],
    groups: settings.product_groups.map(
      ({ name: group, margin: own = margin, fee: besides = fee, target_cost: may }) => [
        group,
        may === undefined
          ? `${percent(own)}${besides ? ` less ${amount(besides)}` : ''}`
          : `one may cost ${amount(may)}`,
      ],
    ),
    counting: [
      ['Credit goes to', creditWords[settings.credit]],
      ['An ad click counts for', `${count(settings.click_window_days)} days`],
      [
        'Claims by view count for',
        settings.view_window_days === 0 ? 'no day' : `${count(settings.view_window_days)} days`,
      ],
    ],
    writing: [
      ['Numbers and dates', settings.locale ?? 'as each browser writes them'],
      ['Weeks begin on', weekdayWords[settings.first_weekday] ?? 'Monday'],
    ],
    keeping: [
      [
        'Page views, hops and what networks were told',
        settings.keep_days === undefined ? 'for ever' : `for ${count(settings.keep_days)} days`,
      ],
      ['Held of that now', `${count(idle)} records`],
    ],
  }
  const remarks: Partial<Record<SettingsPart, ReactNode>> = {
    worth: (
      <>
        Results can have a margin of their own, and sign-ups a fixed worth less its fee:{' '}
        <WordLink href="/results">Results</WordLink>.
      </>
    ),
    groups:
      groups.length === 0
        ? 'No order names its group of products yet: say under Shop export which column holds it, or fill product_group in orders.csv.'
        : `Orders name ${groups
            .slice(0, 5)
            .map(({ name: group, orders }) => `${group} (${count(orders)})`)
            .join(
              ', ',
            )}${groups.length > 5 ? ` and ${count(groups.length - 5)} more` : ''}. Where nothing is said of one, the margin of all holds.`,
    keeping: 'Orders, clicks, claims and spend are kept until you remove them: figures rest on them.',
  }
  return (
    <Page
      at="/settings"
      says="What is said here once holds at every station. Each change shows what it does before, and can be taken back after."
      beside={
        open && (
          <SettingsForm
            key={open}
            title={titles[open]}
            parts={[open]}
            name={name}
            settings={settings}
            groups={groups}
            actions={actions}
            close={() => setOpen(null)}
          />
        )
      }
    >
      {(Object.keys(said) as SettingsPart[]).map(part => (
        <Section
          key={part}
          label={titles[part]}
          title={
            <>
              {titles[part]}{' '}
              {(part !== 'groups' || groups.length + settings.product_groups.length > 0) && (
                <Button size="xs" aria-label={`Change: ${titles[part]}`} onClick={() => setOpen(part)}>
                  Change
                </Button>
              )}
            </>
          }
        >
          <SettledList items={said[part]} />
          {remarks[part] && <Note>{remarks[part]}</Note>}
        </Section>
      ))}
    </Page>
  )
}
