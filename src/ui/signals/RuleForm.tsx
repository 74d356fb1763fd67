'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useCallback, useEffect, useState } from 'react'
import type { Saved } from '@/core/shared/mergeEdit'
import type { AddressCondition } from '@/core/signals/addressMatcher'
import { type Rule, ruleFacts, ruleSchema } from '@/core/signals/rule'
import type { RuleTry } from '@/server/signals/rules'
import { useFormats } from '../format'
import { LongTextField, NumberField, SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { usePreview } from '../parts/usePreview'
import { Conditions } from './Conditions'
import { ruleFindingWords, triggerWords } from './ruleWords'

type When = Rule['when']

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
  save: (rule: Rule, before?: Rule, over?: boolean) => Promise<Saved>
  drop: (id: string) => Promise<void>
  attempt: (rule: Rule, typed: string[]) => Promise<RuleTry | null>
}

const filled = (list: readonly AddressCondition[]) => list.filter(c => c.text.trim() !== '')

/** A rule without what was left empty; one that was never kept has no ID of its own yet. */
const ruleOf = (draft: Rule): Rule => ({
  ...draft,
  id: draft.id || `${draft.result}-new`,
  where: { any: filled(draft.where.any), none: filled(draft.where.none) },
  facts: Object.fromEntries(
    Object.entries(draft.facts).filter(([, f]) => f && (f.from !== 'element' || f.selector)),
  ),
})
/** Whether it waits for any element where no selector is given. */
const needsNoSelector = ({ on }: When) => on === 'form_sent' || on === 'video'
const takesSelector = (when: When) =>
  needsNoSelector(when) || when.on === 'element_click' || when.on === 'element_seen'

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
  const [typed, setTyped] = useState('')
  const [tried, setTried] = useState<RuleTry | null>(null)
  const fresh = given.id === ''
  return (
    <FormPanel
      title={fresh ? 'A new rule' : 'The rule'}
      width={440}
      schema={ruleSchema}
      given={given}
      shape={ruleOf}
      keepWords={fresh ? 'Give it to the tag' : 'Change it in the tag'}
      save={(rule, before, over) => actions.save({ ...rule, id: given.id }, fresh ? undefined : before, over)}
      close={close}
      kept={!fresh && 'The rule is changed in the tag.'}
      waits={tried === null || tried.findings.some(f => f.severity === 'error')}
    >
      {(draft, form) => {
        const { when, where, facts } = draft
        const set = (part: Partial<Rule>) => {
          for (const [key, value] of Object.entries(part))
            form.setValue(key as keyof Rule, value as never, { shouldDirty: true })
        }
        const element = (fact: (typeof ruleFacts)[number]) => {
          const source = facts[fact]
          return source?.from === 'element' ? source : { from: 'element' as const, selector: '' }
        }
        return (
          <>
            <Flex gap="2" mt="2" wrap="wrap" align="center">
              <SelectField unseen label="Result" name="result" choices={results.map(r => [r.id, r.name])} />
              is when
              <SelectField
                unseen
                label="When"
                value={when.on}
                change={on => set({ when: beginnings[on as When['on']] })}
                choices={(Object.keys(beginnings) as When['on'][]).map(on => [on, triggerWords[on]])}
              />
              {'share' in when && (
                <NumberField unseen label="Per cent" name="when.share" least={1} unit="%" />
              )}
              {when.on === 'engaged' && (
                <NumberField unseen label="Seconds" name="when.seconds" least={1} unit="s" />
              )}
              {when.on === 'own_event' && (
                <TextField unseen label="Event" name="when.name" placeholder="its name" width="160px" />
              )}
              {takesSelector(when) && (
                <TextField
                  unseen
                  label="Selector"
                  width="200px"
                  placeholder={needsNoSelector(when) ? 'any, or a CSS selector' : 'CSS selector, .buy'}
                  value={('selector' in when && when.selector) || ''}
                  change={selector => {
                    const { selector: _, ...without } = when as When & { selector?: string }
                    const none = selector === '' && needsNoSelector(when)
                    set({ when: (none ? without : { ...when, selector }) as When })
                  }}
                />
              )}
            </Flex>
            <Conditions
              label={when.on === 'link_click' ? 'The link’s address' : 'The page’s address'}
              list={where.any}
              keep={any => set({ where: { ...where, any } })}
            />
            <Conditions
              label="But not where it"
              list={where.none}
              keep={none => set({ where: { ...where, none } })}
            />
            <Text mt="3" fontWeight="650">
              What it says beside
            </Text>
            {ruleFacts.map(fact => (
              <Flex key={fact} gap="2" mt="1" align="center">
                <Text width="84px">{fact}</Text>
                <TextField
                  unseen
                  width="200px"
                  label={`Element of the ${fact}`}
                  placeholder="element, as [data-order]"
                  value={element(fact).selector}
                  change={selector => set({ facts: { ...facts, [fact]: { ...element(fact), selector } } })}
                />
                <TextField
                  unseen
                  width="110px"
                  label={`Attribute of the ${fact}`}
                  placeholder="its text"
                  value={element(fact).attribute ?? ''}
                  change={attribute =>
                    set({
                      facts: { ...facts, [fact]: { ...element(fact), attribute: attribute || undefined } },
                    })
                  }
                />
              </Flex>
            ))}
            <LongTextField
              mono
              label="Try it on addresses of your own, one a line"
              rows={2}
              value={typed}
              change={setTyped}
            />
            <Tried rule={ruleOf(draft)} typed={typed} attempt={actions.attempt} tell={setTried} />
          </>
        )
      }}
    </FormPanel>
  )
}

/** What a rule would have meant of the pages that were seen, and of those that were typed. */
function Tried({
  rule,
  typed,
  attempt,
  tell,
}: {
  rule: Rule
  typed: string
  attempt: RuleActions['attempt']
  tell: (tried: RuleTry | null) => void
}) {
  const { count } = useFormats()
  const addresses = typed
    .split('\n')
    .map(t => t.trim())
    .filter(Boolean)
  const whole = ruleSchema.safeParse(rule).success
  const ask = useCallback(
    async ([rule, addresses]: [Rule, string[]]) => {
      const found = await attempt(rule, addresses)
      tell(found)
      return found
    },
    [attempt, tell],
  )
  const answer = usePreview(whole ? [rule, addresses] : null, ask)
  const tried = whole ? answer : null
  useEffect(() => {
    if (!whole) tell(null)
  }, [whole, tell])
  return (
    <Box mt="2" p="2" bg="mark" aria-live="polite">
      {tried ? (
        <>
          <Text fontWeight="650">
            {rule.when.on === 'link_click'
              ? tried.seen === 0
                ? 'Enter the address of a link above to try this rule: tel:, mailto: and sms: links work too.'
                : `The rule matches ${count(tried.matches)} of ${count(tried.seen)} link addresses.`
              : `The rule matches ${count(tried.matches)} of ${count(tried.seen)} page addresses.`}
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
  )
}
