import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { AddressCondition } from '@/core/signals/addressMatcher'
import type { Step } from '@/core/signals/journey'
import { SidePanel } from '../shell/SidePanel'
import { Conditions } from '../signals/Conditions'

/** A result by its name. */
export interface Named {
  id: string
  name: string
}

/** One step of a journey: a result, or pages by their address. */
export function StepForm({
  step,
  results,
  keep,
  remove,
  close,
}: {
  step: Step
  results: Named[]
  keep: (step: Step) => void
  remove: (() => void) | null
  close: () => void
}) {
  const [draft, setDraft] = useState(step)
  const { by } = draft
  const filled = (list: readonly AddressCondition[]) => list.filter(c => c.text.trim() !== '')
  const conditions = (which: 'any' | 'none', list: AddressCondition[]) =>
    by.on === 'page' && setDraft({ ...draft, by: { on: 'page', where: { ...by.where, [which]: list } } })
  return (
    <SidePanel title="The step" close={close}>
      <Box as="label" display="block" mt="2">
        Name
        <input
          className="field wide"
          value={draft.name}
          onChange={event => setDraft({ ...draft, name: event.target.value })}
        />
      </Box>
      <Box as="label" display="block" mt="2">
        It is reached when
        <select
          className="field wide"
          value={by.on === 'page' ? '' : by.result}
          onChange={event =>
            setDraft({
              ...draft,
              by: event.target.value
                ? { on: 'result', result: event.target.value }
                : { on: 'page', where: { any: [], none: [] } },
            })
          }
        >
          <option value="">a page is opened</option>
          {results.map(r => (
            <option key={r.id} value={r.id}>
              {r.name} comes about
            </option>
          ))}
        </select>
      </Box>
      {by.on === 'page' && (
        <>
          <Conditions
            label="The page’s address"
            list={[...by.where.any]}
            keep={list => conditions('any', list)}
          />
          <Conditions
            label="But not where it"
            list={[...by.where.none]}
            keep={list => conditions('none', list)}
          />
          {filled(by.where.any).length === 0 && (
            <Text color="quiet">With no address every page is this step.</Text>
          )}
        </>
      )}
      <Flex as="label" gap="2" mt="3">
        <input
          type="checkbox"
          checked={draft.optional}
          onChange={event => setDraft({ ...draft, optional: event.target.checked })}
        />
        Shoppers may go on without it
      </Flex>
      <Flex gap="2" mt="3">
        <button
          type="button"
          className="field press"
          disabled={draft.name.trim() === ''}
          onClick={() => {
            keep({
              ...draft,
              by:
                by.on === 'page'
                  ? { on: 'page', where: { any: filled(by.where.any), none: filled(by.where.none) } }
                  : by,
            })
            close()
          }}
        >
          Keep the step
        </button>
        {remove && (
          <button type="button" className="field press" onClick={remove}>
            Remove it
          </button>
        )}
      </Flex>
    </SidePanel>
  )
}
