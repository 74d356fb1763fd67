'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import * as z from 'zod'
import type { Settings } from '@/core/intake/settings'
import { formatDay } from '@/core/shared/days'
import { type PlainRule, plainRuleSchema } from '@/core/weigh/plainRules'
import type { RulesTried } from '@/server/compute/views/weigh'
import { useFormats } from '../format'
import { NumberField, SelectField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { Note } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
import { type SettingsActions, unitsOf } from '../settings/SettingsForm'
import { ruleWords } from './verdictWords'

const draftSchema = z.object({
  cut_below: z.number().min(0.01).max(0.45),
  raise_above: z.number().min(0.55).max(0.99),
  rules: z.array(plainRuleSchema).max(12),
})
type Draft = z.infer<typeof draftSchema>

const kinds = {
  no_result: 'cut what has no result after',
  over_line: 'cut what costs too much',
  few_impressions: 'wait for impressions',
  little_spend: 'wait for spend',
} as const satisfies Record<PlainRule['when'], string>
const usual: Record<PlainRule['when'], PlainRule> = {
  no_result: { when: 'no_result', lines: 3 },
  over_line: { when: 'over_line', times: 2, results: 3 },
  few_impressions: { when: 'few_impressions', impressions: 5000 },
  little_spend: { when: 'little_spend', spend: 50 },
}
/** Ads that rules would have cut, and what they did after that. */
const triedColumns: Column<RulesTried[number]>[] = [
  {
    id: 'ad',
    words: true,
    width: 130,
    hint: 'what the rules would have cut',
    value: one => one.row.name || one.row.id,
  },
  {
    id: 'cut on',
    as: 'day',
    hint: 'the evening on which they would have cut it',
    value: one => formatDay(one.day),
  },
  {
    id: 'left',
    as: 'amount',
    hint: 'what its results left after that, less what was spent on them',
    value: one => Math.round(one.after.leaves - one.after.spend),
  },
  { id: 'spent before', as: 'amount', hint: 'in the 28 days before that', value: one => one.before.spend },
  { id: 'spent after', as: 'amount', hint: 'from then on', value: one => one.after.spend },
  { id: 'results after', as: 'tenths', hint: 'estimated, from then on', value: one => one.after.results },
]

/** When rows are cut and raised, and plain rules on top, each tried on the last month before it is kept. */
export function RulesPanel({
  settings,
  actions,
  query,
  close,
}: {
  settings: Settings
  actions: SettingsActions
  query: string
  close: () => void
}) {
  const { cut_below, raise_above, rules } = settings.verdicts
  const formats = useFormats()
  const [kind, setKind] = useState<PlainRule['when']>('no_result')
  return (
    <FormPanel<Draft>
      title="When to cut, when to raise"
      schema={draftSchema}
      given={{ cut_below, raise_above, rules }}
      keepWords="Judge by this"
      save={(draft, before, over) => actions.keep({ verdicts: draft }, { verdicts: before }, over)}
      close={close}
      kept="Rows are judged by this now."
      width={400}
    >
      {(draft, form) => {
        const set = (next: PlainRule[]) => form.setValue('rules', next, { shouldDirty: true })
        const put = (i: number, part: Partial<PlainRule>) =>
          set(draft.rules.map((rule, at) => (at === i ? ({ ...rule, ...part } as PlainRule) : rule)))
        return (
          <>
            <NumberField
              label="Cut where more spend pays for itself less often than"
              name="cut_below"
              least={1}
              most={45}
              scale={0.01}
              unit="times in 100"
            />
            <NumberField
              label="Raise where it does more often than"
              name="raise_above"
              least={55}
              most={99}
              scale={0.01}
              unit="times in 100"
            />
            <Text as="h3" fontWeight="650" mt="4">
              Plain rules on top
            </Text>
            {draft.rules.length === 0 && (
              <Text color="quiet">None: rows are judged by what they are worth alone.</Text>
            )}
            {draft.rules.map((rule, i) => (
              <Flex key={`${rule.when} ${i}`} gap="2" mt="2" align="center" wrap="wrap">
                <Text flexBasis="100%">{ruleWords(rule, formats, unitsOf(settings.currency))}</Text>
                <RuleFields
                  rule={rule}
                  number={i + 1}
                  currency={settings.currency}
                  put={part => put(i, part)}
                />
                <Button
                  aria-label={`Without rule ${i + 1}`}
                  onClick={() => set(draft.rules.filter((_, at) => at !== i))}
                >
                  ×
                </Button>
              </Flex>
            ))}
            <Flex gap="2" mt="3">
              <SelectField
                unseen
                label="Another rule"
                value={kind}
                change={next => setKind(next as PlainRule['when'])}
                choices={Object.entries(kinds)}
              />
              <Button onClick={() => set([...draft.rules, usual[kind]])}>Add it</Button>
            </Flex>
            <Tried rules={draft.rules} query={query} />
          </>
        )
      }}
    </FormPanel>
  )
}

function RuleFields({
  rule,
  number,
  currency,
  put,
}: {
  rule: PlainRule
  number: number
  currency: string
  put: (part: Partial<PlainRule>) => void
}) {
  const least = (value: number | undefined, from: number) => Math.max(from, value ?? from)
  switch (rule.when) {
    case 'no_result':
      return (
        <NumberField
          unseen
          label={`Lines of rule ${number}`}
          value={rule.lines}
          least={0.5}
          most={20}
          step={0.5}
          unit="× its line"
          change={lines => put({ lines: least(lines, 0.5) })}
        />
      )
    case 'over_line':
      return (
        <>
          <NumberField
            unseen
            label={`Times of rule ${number}`}
            value={rule.times}
            least={1}
            most={20}
            step={0.5}
            unit="× its line"
            change={times => put({ times: least(times, 1) })}
          />
          <NumberField
            unseen
            label={`Results of rule ${number}`}
            value={rule.results}
            least={1}
            most={1000}
            unit="results at least"
            change={results => put({ results: least(results, 1) })}
          />
        </>
      )
    case 'few_impressions':
      return (
        <NumberField
          unseen
          label={`Impressions of rule ${number}`}
          value={rule.impressions}
          least={1}
          width="100px"
          unit="impressions"
          change={impressions => put({ impressions: least(impressions, 1) })}
        />
      )
    case 'little_spend':
      return (
        <NumberField
          unseen
          label={`Spend of rule ${number}`}
          value={rule.spend}
          least={1}
          width="100px"
          unit={currency}
          change={spend => put({ spend: least(spend, 1) })}
        />
      )
  }
}

/** What the rules would have done last month, and how that came out. */
function Tried({ rules, query }: { rules: readonly PlainRule[]; query: string }) {
  const { count } = useFormats()
  const asked =
    rules.length > 0 ? `/api/weigh/rules?${query}&rules=${encodeURIComponent(JSON.stringify(rules))}` : null
  const { answer, problem } = useServer<RulesTried>(asked, { keepPreviousData: true })
  if (!asked) return null
  if (problem) return <Note alarm>What they would have done cannot be told: {problem}</Note>
  if (!answer) return <Note>What they would have done last month …</Note>
  const earned = answer.filter(one => one.earned)
  return (
    <Box mt="4">
      <Text fontWeight="650" role="status">
        {answer.length === 0
          ? 'They would have cut nothing last month.'
          : `They would have cut ${count(answer.length)} ${answer.length === 1 ? 'ad' : 'ads'} last month; ${count(earned.length)} of them later earned.`}
      </Text>
      {answer.length > 0 && (
        <DataTable
          label="What the rules would have cut"
          tools
          columns={triedColumns}
          rows={answer}
          rowId={one => one.row.path.join('/')}
        />
      )}
      <Text color="quiet" fontSize="12px" mt="1">
        Each evening they would have looked at the 28 days before, by what is known of these today.
      </Text>
    </Box>
  )
}
