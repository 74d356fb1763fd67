'use client'
import { Box, Button, Flex, Input, Text, Textarea } from '@chakra-ui/react'
import { useEffect, useState, useTransition } from 'react'
import type { AddressCondition } from '@/core/signals/addressMatcher'
import { type Rule, ruleFacts, ruleSchema } from '@/core/signals/rule'
import type { RuleTry } from '@/server/signals/rules'
import { count } from '../format'
import { Select } from '../parts/Fields'
import { SidePanel } from '../parts/SidePanel'
import { Conditions } from './Conditions'
import { ruleFindingWords, triggerWords } from './ruleWords'

type When = Rule['when']
const PAUSE_MS = 250

/** A trigger of each kind as the form begins it. */
const beginnings: Record<When['on'], When> = {
  page: { on: 'page' },
  link_click: { on: 'link_click' },
  element_click: { on: 'element_click', selector: '' },
  form_sent: { on: 'form_sent' },
  element_seen: { on: 'element_seen', selector: '' },
  scroll: { on: 'scroll', share: 50 },
  video: { on: 'video', share: 50 },
  engaged: { on: 'engaged', seconds: 30 },
  own_event: { on: 'own_event', name: '' },
}

export interface RuleActions {
  save: (rule: Rule) => Promise<string | null>
  drop: (id: string) => Promise<void>
  attempt: (rule: Rule, typed: string[]) => Promise<RuleTry | null>
}

/** One rule, tried on the pages that were seen while it is written. */
export function RuleForm({
  given,
  results,
  actions,
  close,
}: {
  given: Rule
  results: { id: string; name: string }[]
  actions: RuleActions
  close: () => void
}) {
  const [draft, setDraft] = useState(given)
  const [typed, setTyped] = useState('')
  const [tried, setTried] = useState<RuleTry | null>(null)
  const [problem, setProblem] = useState('')
  const [busy, start] = useTransition()
  const fresh = given.id === ''
  const { when, where, facts } = draft
  const filled = (list: Rule['where']['any']) => list.filter(c => c.text.trim() !== '')
  const rule = {
    ...draft,
    id: given.id || `${draft.result}-new`,
    where: { any: filled(where.any), none: filled(where.none) },
    facts: Object.fromEntries(
      Object.entries(facts).filter(([, f]) => f && (f.from !== 'element' || f.selector)),
    ),
  }
  const asked = JSON.stringify([
    rule,
    typed
      .split('\n')
      .map(t => t.trim())
      .filter(Boolean),
  ])
  const { attempt } = actions
  useEffect(() => {
    const [wanted, addresses] = JSON.parse(asked) as [Rule, string[]]
    if (!ruleSchema.safeParse(wanted).success) return setTried(null)
    const timer = setTimeout(() => void attempt(wanted, addresses).then(setTried), PAUSE_MS)
    return () => clearTimeout(timer)
  }, [asked, attempt])

  const conditions = (which: 'any' | 'none', list: AddressCondition[]) =>
    setDraft({ ...draft, where: { ...where, [which]: list } })
  const element = (fact: (typeof ruleFacts)[number]) => {
    const source = facts[fact]
    return source?.from === 'element' ? source : null
  }
  return (
    <SidePanel title={fresh ? 'A new rule' : 'The rule'} width={440} close={close}>
      <Flex gap="2" mt="2" wrap="wrap" align="center">
        <Select
          aria-label="Result"
          value={draft.result}
          onChange={e => setDraft({ ...draft, result: e.target.value })}
        >
          {results.map(r => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
        </Select>
        is when
        <Select
          aria-label="When"
          value={when.on}
          onChange={e => setDraft({ ...draft, when: beginnings[e.target.value as When['on']] })}
        >
          {(Object.keys(beginnings) as When['on'][]).map(on => (
            <option key={on} value={on}>
              {triggerWords[on]}
            </option>
          ))}
        </Select>
        {'share' in when && (
          <NumberOf
            label="Per cent"
            unit="%"
            value={when.share}
            keep={share => setDraft({ ...draft, when: { ...when, share } })}
          />
        )}
        {when.on === 'engaged' && (
          <NumberOf
            label="Seconds"
            unit="s"
            value={when.seconds}
            keep={seconds => setDraft({ ...draft, when: { ...when, seconds } })}
          />
        )}
        {when.on === 'own_event' && (
          <Input
            width="auto"
            aria-label="Event"
            placeholder="its name"
            value={when.name}
            onChange={e => setDraft({ ...draft, when: { ...when, name: e.target.value } })}
          />
        )}
        {(when.on === 'element_click' ||
          when.on === 'element_seen' ||
          when.on === 'form_sent' ||
          when.on === 'video') && (
          <Input
            width="auto"
            aria-label="Selector"
            placeholder={
              when.on === 'form_sent' || when.on === 'video' ? 'any, or a CSS selector' : 'CSS selector, .buy'
            }
            value={when.selector ?? ''}
            onChange={e => {
              const selector = e.target.value
              const optional = when.on === 'form_sent' || when.on === 'video'
              setDraft({
                ...draft,
                when: optional && selector === '' ? beginnings[when.on] : { ...when, selector },
              })
            }}
          />
        )}
      </Flex>
      <Conditions
        label={when.on === 'link_click' ? 'The link’s address' : 'The page’s address'}
        list={where.any}
        keep={list => conditions('any', list)}
      />
      <Conditions label="But not where it" list={where.none} keep={list => conditions('none', list)} />
      <Text mt="3" fontWeight="650">
        What it says beside
      </Text>
      {ruleFacts.map(fact => (
        <Flex key={fact} gap="2" mt="1" align="center">
          <Text width="84px">{fact}</Text>
          <Input
            style={{ flex: 1 }}
            aria-label={`Element of the ${fact}`}
            placeholder="element, as [data-order]"
            value={element(fact)?.selector ?? ''}
            onChange={e =>
              setDraft({
                ...draft,
                facts: {
                  ...facts,
                  [fact]: { from: 'element', selector: e.target.value, attribute: element(fact)?.attribute },
                },
              })
            }
          />
          <Input
            style={{ width: 110 }}
            aria-label={`Attribute of the ${fact}`}
            placeholder="its text"
            value={element(fact)?.attribute ?? ''}
            onChange={e =>
              setDraft({
                ...draft,
                facts: {
                  ...facts,
                  [fact]: {
                    from: 'element',
                    selector: element(fact)?.selector ?? '',
                    attribute: e.target.value || undefined,
                  },
                },
              })
            }
          />
        </Flex>
      ))}
      <Text as="label" display="block" mt="3">
        Try it on addresses of your own, one a line
        <Textarea
          rows={2}
          style={{ width: '100%', height: 'auto', fontFamily: 'monospace' }}
          value={typed}
          onChange={e => setTyped(e.target.value)}
        />
      </Text>
      <Box mt="2" p="2" bg="mark" aria-live="polite">
        {tried ? (
          <>
            <Text fontWeight="650">
              It would have meant {count(tried.matches)} of {count(tried.seen)} addresses.
            </Text>
            {tried.examples.slice(0, 6).map(address => (
              <Text key={address} fontFamily="mono" fontSize="11px" truncate title={address}>
                {address}
              </Text>
            ))}
            {tried.findings.map(finding => (
              <Text key={finding.code} color={finding.severity === 'error' ? 'alarm' : 'network'}>
                {ruleFindingWords(finding)}
              </Text>
            ))}
          </>
        ) : (
          <Text color="quiet">Not complete yet: a selector or name is missing.</Text>
        )}
      </Box>
      {problem && <Text color="alarm">{problem}</Text>}
      <Button
        style={{ marginTop: 12 }}
        disabled={busy || tried === null || tried.findings.some(f => f.severity === 'error')}
        onClick={() =>
          start(async () => {
            const wrong = await actions.save({ ...rule, id: given.id })
            if (wrong) setProblem(wrong)
            else close()
          })
        }
      >
        {fresh ? 'Give it to the tag' : 'Change it in the tag'}
      </Button>
    </SidePanel>
  )
}

function NumberOf({
  label,
  unit,
  value,
  keep,
}: {
  label: string
  unit: string
  value: number
  keep: (n: number) => void
}) {
  return (
    <span>
      <Input
        type="number"
        min={1}
        style={{ width: 64 }}
        aria-label={label}
        value={value}
        onChange={e => keep(Number(e.target.value))}
      />{' '}
      {unit}
    </span>
  )
}
