'use client'
import { Button } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { Rule } from '@/core/signals/rule'
import type { RuleTry } from '@/server/signals/rules'
import { UNKNOWN, useFormats } from '../format'
import { Note, Page } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { undoable } from '../parts/undo'
import { useSending } from '../parts/useSending'
import type { RuleActions } from './RuleForm'
import { whenWords, whereWords } from './ruleWords'

const RuleForm = dynamic(() => import('./RuleForm').then(m => m.RuleForm), { ssr: false })

/** Rules by which the tag on the site tells results, without a change of the site. */
export function RulesScreen({
  rules,
  results,
  tries,
  opened,
  actions,
}: {
  rules: Rule[]
  /** the rule that the address asks for */
  opened: string | null
  results: { id: string; name: string }[]
  tries: Record<string, RuleTry>
  actions: RuleActions
}) {
  const { count } = useFormats()
  const [chosen, setChosen] = useState(rules.some(r => r.id === opened) ? opened : null)
  const [busy, send] = useSending()
  const nameOf = (id: string) => results.find(r => r.id === id)?.name ?? id
  const wrong = rules.filter(r => tries[r.id]?.findings.some(f => f.severity === 'error')).length
  const editing = rules.find(r => r.id === chosen)
  const fresh: Rule = {
    id: '',
    result: results[0]?.id ?? '',
    when: { on: 'page' },
    where: { any: [{ by: 'equals', text: '' }], none: [] },
    facts: {},
  }
  const columns: Column<Rule>[] = [
    {
      id: 'result',
      words: true,
      value: r => nameOf(r.result),
      cell: ({ id, result }) => (
        <Button variant="plain" fontWeight="650" color="ink" onClick={() => setChosen(id)}>
          {nameOf(result)}
        </Button>
      ),
    },
    { id: 'when', words: true, value: r => whenWords(r.when) },
    { id: 'where', words: true, wraps: true, value: r => whereWords(r.where) },
    {
      id: 'pages',
      heading: 'of last week’s pages',
      value: r => tries[r.id]?.matches ?? null,
      cell: r => {
        const known = tries[r.id]
        return known ? `${count(known.matches)} of ${count(known.seen)}` : UNKNOWN
      },
    },
    {
      id: 'remove',
      heading: '',
      value: () => null,
      cell: rule => (
        <Button
          size="xs"
          disabled={busy}
          onClick={() =>
            send(async () => {
              await actions.drop(rule.id)
              undoable(`The rule for ${nameOf(rule.result)} is gone from the tag.`, () => actions.save(rule))
            })
          }
        >
          Remove
        </Button>
      ),
    },
  ]
  return (
    <Page
      at="/signals"
      says={
        rules.length === 0
          ? 'The tag reports pages, and no rule says yet which of them is a result. Say it once here: for example, an order is when the page /thanks is opened.'
          : `${count(rules.length)} ${rules.length === 1 ? 'rule runs' : 'rules run'} in the tag${wrong > 0 ? `; ${count(wrong)} would count what is no result` : ''}. A change is on the site within seconds.`
      }
      actions={results.length > 0 && <Button onClick={() => setChosen('')}>Add a rule</Button>}
      beside={
        chosen !== null && (
          <RuleForm
            key={chosen}
            given={editing ?? fresh}
            results={results}
            actions={actions}
            close={() => setChosen(null)}
          />
        )
      }
    >
      {opened !== null && !rules.some(r => r.id === opened) && (
        <Note alarm>There is no rule “{opened}”.</Note>
      )}
      {rules.length > 0 && (
        <DataTable
          label="Rules"
          columns={columns}
          rows={rules}
          rowId={r => r.id}
          enter={r => setChosen(r.id)}
          chosen={chosen}
          main
        />
      )}
    </Page>
  )
}
