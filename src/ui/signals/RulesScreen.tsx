'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Rule } from '@/core/signals/rule'
import type { RuleTry } from '@/server/signals/rules'
import { count } from '../format'
import { PartNav } from '../parts/PartNav'
import { type RuleActions, RuleForm } from './RuleForm'
import { whenWords, whereWords } from './ruleWords'

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
  const [chosen, setChosen] = useState(rules.some(r => r.id === opened) ? opened : null)
  const [dropped, setDropped] = useState<Rule | null>(null)
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
  return (
    <Flex height="100%">
      <Box flex="1" minWidth="0" overflowY="auto" px="5" pt="4" pb="8">
        <PartNav here="/signals" />
        <Text as="h1" fontSize="19px" maxWidth="62rem">
          {rules.length === 0
            ? 'The tag reports pages, and no rule says yet which of them is a result. Say it once here: for example, an order is when the page /thanks is opened.'
            : `${count(rules.length)} ${rules.length === 1 ? 'rule runs' : 'rules run'} in the tag${wrong > 0 ? `; ${count(wrong)} would count what is no result` : ''}. A change is on the site within seconds.`}
        </Text>
        {opened !== null && !rules.some(r => r.id === opened) && (
          <Text fontSize="13px" mt="2" role="alert" color="alarm">
            There is no rule “{opened}”.
          </Text>
        )}
        {dropped && (
          <Text fontSize="13px" mt="2" role="status">
            The rule for {nameOf(dropped.result)} is gone from the tag.{' '}
            <Button variant="plain" onClick={() => void actions.save(dropped).then(() => setDropped(null))}>
              Undo
            </Button>
          </Text>
        )}
        <table className="ledger" style={{ marginTop: 12 }} hidden={rules.length === 0}>
          <thead>
            <tr>
              {['result', 'when', 'where'].map(head => (
                <th key={head} scope="col" style={{ textAlign: 'left' }}>
                  {head}
                </th>
              ))}
              <th scope="col">of last week’s pages</th>
              <th scope="col" aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {rules.map(rule => {
              const known = tries[rule.id]
              return (
                <tr key={rule.id}>
                  <th scope="row">
                    <Button variant="plain" style={{ fontWeight: 650 }} onClick={() => setChosen(rule.id)}>
                      {nameOf(rule.result)}
                    </Button>
                  </th>
                  <td style={{ textAlign: 'left' }}>{whenWords(rule.when)}</td>
                  <td style={{ textAlign: 'left', whiteSpace: 'normal' }}>{whereWords(rule.where)}</td>
                  <td>{known ? `${count(known.matches)} of ${count(known.seen)}` : '—'}</td>
                  <td>
                    <Button onClick={() => void actions.drop(rule.id).then(() => setDropped(rule))}>
                      Remove
                    </Button>
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
        {results.length > 0 && (
          <Button style={{ marginTop: 12 }} onClick={() => setChosen('')}>
            Add a rule
          </Button>
        )}
      </Box>
      {chosen !== null && (
        <RuleForm
          key={chosen}
          given={editing ?? fresh}
          results={results}
          actions={actions}
          close={() => setChosen(null)}
        />
      )}
    </Flex>
  )
}
