'use client'
import { Text } from '@chakra-ui/react'
import * as z from 'zod'
import { campaignRuleSchema, type Settings } from '@/core/intake/settings'
import { AmountField } from '../parts/AmountField'
import { FormPanel } from '../parts/FormPanel'
import { WordLink } from '../parts/WordLink'
import { MarginField } from '../settings/MarginField'
import { type SettingsActions, unitsOf, WouldCome } from '../settings/SettingsForm'

const draftSchema = z.object({
  margin: campaignRuleSchema.shape.margin,
  /** minor units */
  fee: z.int().nonnegative().optional(),
  target: z.int().positive().optional(),
})
type Draft = z.infer<typeof draftSchema>

/** What results of one campaign leave, and what one may cost, where that is another than of all; with what it changes. */
export function LinePanel({
  network,
  campaign,
  name,
  settings,
  actions,
  close,
}: {
  network: string
  campaign: string
  name: string
  settings: Settings
  actions: SettingsActions
  close: () => void
}) {
  const { currency, campaign_rules } = settings
  const units = unitsOf(currency)
  const own = campaign_rules.find(rule => rule.network === network && rule.campaign === campaign)
  const inUnits = (amount: number | undefined) =>
    amount === undefined ? undefined : Math.round(amount * units)
  const changeOf = ({ margin, fee, target }: Draft) => ({
    campaign_rules: [
      ...campaign_rules.filter(rule => rule !== own),
      ...(margin === undefined && fee === undefined && target === undefined
        ? []
        : [
            {
              network,
              campaign,
              ...(margin !== undefined && { margin }),
              ...(fee !== undefined && { fee: fee / units }),
              ...(target !== undefined && { target_cost: target / units }),
            },
          ]),
    ],
  })
  return (
    <FormPanel<Draft>
      title={`The line of ${name}`}
      schema={draftSchema}
      given={{ margin: own?.margin, fee: inUnits(own?.fee), target: inUnits(own?.target_cost) }}
      keepWords="Keep it"
      save={(draft, before, over) => actions.keep(changeOf(draft), changeOf(before), over)}
      close={close}
      kept="The line of this campaign is changed."
      after={
        <Text mt="4" color="quiet">
          Of all results: <WordLink href="/settings">Settings</WordLink>, by group of products there too. Of
          one kind of result: <WordLink href="/results">Results</WordLink>. What is said here stands before
          both.
        </Text>
      }
    >
      {draft => (
        <>
          <MarginField label="Margin of what this campaign sells" name="margin" usual={settings.margin} />
          <AmountField label="Every result costs besides" name="fee" currency={currency} />
          <AmountField
            label="A result may cost"
            name="target"
            currency={currency}
            help="in place of what it leaves; empty for the line that its results make"
          />
          <WouldCome change={changeOf(draft)} preview={actions.preview} />
        </>
      )}
    </FormPanel>
  )
}
