import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useDeferredValue, useState } from 'react'
import * as z from 'zod'
import {
  type NamePart,
  type NamingRule,
  namedLevels,
  namingRuleSchema,
  partKinds,
  readName,
} from '@/core/links/naming'
import { CheckField } from '../parts/CheckField'
import { SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { useSending } from '../parts/useSending'
import { levelWords, nameProblemWords, patternOf } from './nameWords'

export type Rule = NamingRule & { id: string }
export interface RuleActions {
  save: (id: string, rule: unknown) => Promise<string | null>
  drop: (id: string) => Promise<void>
}

/** The rule as it is meant: while a list is typed, it may end in a comma. */
const withoutBlanks = (rule: Rule): Rule => ({
  ...rule,
  parts: rule.parts.map(part => ({ ...part, values: part.values.map(v => v.trim()).filter(Boolean) })),
})

const formSchema = namingRuleSchema.and(z.object({ id: z.string() }))

/** One naming rule: whose names, what stands between their parts, and what each part says; a name can be tried. */
export function NamingRuleForm({
  from,
  networks,
  actions,
  dropped,
  close,
}: {
  from: Rule
  networks: readonly { id: string; name: string }[]
  actions: RuleActions
  dropped: () => void
  close: () => void
}) {
  const [busy, send] = useSending()
  return (
    <FormPanel
      title={from.id ? 'A naming rule' : 'A new naming rule'}
      label="The naming rule"
      width={420}
      schema={formSchema}
      given={from}
      shape={withoutBlanks}
      keepWords="Keep the rule"
      save={({ id, ...own }) => actions.save(id, own)}
      close={close}
      kept={from.id !== '' && 'The naming rule is changed.'}
      also={
        from.id && (
          <Button
            disabled={busy}
            onClick={() =>
              send(async () => {
                await actions.drop(from.id)
                dropped()
                close()
              })
            }
          >
            Take it away
          </Button>
        )
      }
    >
      {(rule, form) => {
        const setParts = (parts: NamePart[]) => form.setValue('parts', parts, { shouldDirty: true })
        return (
          <>
            <SelectField
              label="Names of"
              name="level"
              choices={namedLevels.map(level => [level, levelWords[level]])}
            />
            <Box as="fieldset" border="0" mt="2">
              <legend>at {rule.networks.length === 0 ? 'all networks, or only' : 'these networks'}</legend>
              <Flex columnGap="3" wrap="wrap">
                {networks.map(({ id, name }) => (
                  <CheckField
                    key={id}
                    label={name}
                    value={rule.networks.includes(id)}
                    change={on =>
                      form.setValue(
                        'networks',
                        on ? [...rule.networks, id] : rule.networks.filter(one => one !== id),
                        { shouldDirty: true },
                      )
                    }
                  />
                ))}
              </Flex>
            </Box>
            <TextField mono label="between parts stands" name="separator" />
            {rule.parts.map((part, i) => (
              <Box key={i} borderTopWidth="1px" borderColor="hairline" pt="1.5" mt="2">
                <Flex gap="1.5">
                  <TextField unseen width="150px" label={`Name of part ${i + 1}`} name={`parts.${i}.name`} />
                  <SelectField
                    unseen
                    label={`What part ${i + 1} is`}
                    name={`parts.${i}.kind`}
                    choices={Object.entries(partKinds)}
                  />
                  <Button
                    aria-label={`Take part ${i + 1} out`}
                    onClick={() => setParts(rule.parts.filter((_, j) => j !== i))}
                  >
                    ×
                  </Button>
                </Flex>
                {part.kind === 'list' && (
                  <TextField
                    unseen
                    label={`What part ${i + 1} may be`}
                    placeholder="looms, yarn, course"
                    value={part.values.join(',')}
                    change={text =>
                      setParts(rule.parts.map((p, j) => (j === i ? { ...p, values: text.split(',') } : p)))
                    }
                  />
                )}
              </Box>
            ))}
            <Button mt="2" onClick={() => setParts([...rule.parts, { name: '', kind: 'text', values: [] }])}>
              Another part
            </Button>
            <TriedName rule={rule} />
          </>
        )
      }}
    </FormPanel>
  )
}

/** What a rule makes of a name that is typed. */
function TriedName({ rule }: { rule: Rule }) {
  const [tried, setTried] = useState('')
  const name = useDeferredValue(tried)
  const checked = namingRuleSchema.safeParse(withoutBlanks(rule))
  const result = name && checked.success ? readName(checked.data, name) : null
  return (
    <>
      <TextField label="Try a name" value={tried} change={setTried} />
      <Text role="status" color={result?.parts || !result ? 'quiet' : 'alarm'} overflowWrap="anywhere" mt="1">
        {!checked.success
          ? checked.error.issues[0]?.message
          : result
            ? result.parts
              ? Object.entries(result.parts)
                  .map(([part, value]) => `${part}: ${value}`)
                  .join(', ')
              : `${nameProblemWords(result.problems)}${result.proposal ? `. It would be ${result.proposal}` : ''}`
            : `As ${patternOf(rule)}`}
      </Text>
    </>
  )
}
