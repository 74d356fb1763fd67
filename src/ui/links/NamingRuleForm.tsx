import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useDeferredValue, useState, useTransition } from 'react'
import {
  type NamedLevel,
  type NamePart,
  type NamingRule,
  namedLevels,
  namingRuleSchema,
  type PartKind,
  partKinds,
  readName,
} from '@/core/links/naming'
import { CheckField, Select } from '../parts/Fields'
import { SidePanel } from '../parts/SidePanel'
import { nameProblemWords } from './nameWords'

export type Rule = NamingRule & { id: string }
export interface RuleActions {
  save: (id: string, rule: unknown) => Promise<string | null>
  drop: (id: string) => Promise<void>
}
export const levelWords: Record<NamedLevel, string> = { campaign: 'campaigns', ad_set: 'ad sets', ad: 'ads' }

export const patternOf = (rule: NamingRule) => rule.parts.map(p => p.name).join(rule.separator)

/** The rule as it is meant: while a list is typed, it may end in a comma. */
const withoutBlanks = (rule: Rule): Rule => ({
  ...rule,
  parts: rule.parts.map(part => ({ ...part, values: part.values.map(v => v.trim()).filter(Boolean) })),
})

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
  const [rule, setRule] = useState<Rule>(from)
  const [tried, setTried] = useState('')
  const [said, setSaid] = useState('')
  const [busy, start] = useTransition()
  const name = useDeferredValue(tried)
  const written = withoutBlanks(rule)
  const checked = namingRuleSchema.safeParse(written)
  const result = name && checked.success ? readName(checked.data, name) : null
  const setPart = (at: number, part: Partial<NamePart>) =>
    setRule({ ...rule, parts: rule.parts.map((p, i) => (i === at ? { ...p, ...part } : p)) })
  return (
    <SidePanel
      title={from.id ? 'A naming rule' : 'A new naming rule'}
      label="The naming rule"
      width={420}
      close={close}
    >
      <Flex direction="column" gap="2">
        <label>
          Names of
          <Select
            width="100%"
            value={rule.level}
            onChange={e =>
              setRule({ ...rule, level: namedLevels.find(l => l === e.target.value) ?? 'campaign' })
            }
          >
            {namedLevels.map(l => (
              <option key={l} value={l}>
                {levelWords[l]}
              </option>
            ))}
          </Select>
        </label>
        <fieldset style={{ border: 0 }}>
          <legend>at {rule.networks.length === 0 ? 'all networks, or only' : 'these networks'}</legend>
          <Flex gap="3" wrap="wrap">
            {networks.map(n => (
              <CheckField
                key={n.id}
                label={n.name}
                value={rule.networks.includes(n.id)}
                change={on =>
                  setRule({
                    ...rule,
                    networks: on ? [...rule.networks, n.id] : rule.networks.filter(id => id !== n.id),
                  })
                }
              />
            ))}
          </Flex>
        </fieldset>
        <label>
          between parts stands
          <Input
            style={{ fontFamily: 'var(--chakra-fonts-mono)' }}
            value={rule.separator}
            maxLength={5}
            onChange={e => setRule({ ...rule, separator: e.target.value })}
          />
        </label>
        {rule.parts.map((part, i) => (
          <Box key={i} borderTopWidth="1px" borderColor="hairline" pt="1.5">
            <Flex gap="1.5">
              <Input
                style={{ flex: 1, minWidth: 0 }}
                aria-label={`Name of part ${i + 1}`}
                value={part.name}
                onChange={e => setPart(i, { name: e.target.value })}
              />
              <Select
                aria-label={`What part ${i + 1} is`}
                value={part.kind}
                onChange={e => setPart(i, { kind: e.target.value as PartKind })}
              >
                {Object.entries(partKinds).map(([kind, what]) => (
                  <option key={kind} value={kind}>
                    {what}
                  </option>
                ))}
              </Select>
              <Button
                aria-label={`Take part ${i + 1} out`}
                onClick={() => setRule({ ...rule, parts: rule.parts.filter((_, j) => j !== i) })}
              >
                ×
              </Button>
            </Flex>
            {part.kind === 'list' && (
              <Input
                style={{ marginTop: 4 }}
                aria-label={`What part ${i + 1} may be`}
                placeholder="looms, yarn, course"
                value={part.values.join(',')}
                onChange={e => setPart(i, { values: e.target.value.split(',') })}
              />
            )}
          </Box>
        ))}
        <Button
          onClick={() => setRule({ ...rule, parts: [...rule.parts, { name: '', kind: 'text', values: [] }] })}
        >
          Another part
        </Button>
        <label>
          Try a name
          <Input value={tried} onChange={e => setTried(e.target.value)} />
        </label>
        <Text role="status" color={result?.parts || !result ? 'quiet' : 'alarm'} overflowWrap="anywhere">
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
        <Flex gap="2">
          <Button
            disabled={busy}
            onClick={() =>
              start(async () => {
                const { id, ...own } = written
                const problem = await actions.save(id, own)
                setSaid(problem ?? '')
                if (problem === null) close()
              })
            }
          >
            Keep the rule
          </Button>
          {from.id && (
            <Button
              disabled={busy}
              onClick={() =>
                start(async () => {
                  await actions.drop(from.id)
                  dropped()
                  close()
                })
              }
            >
              Take it away
            </Button>
          )}
        </Flex>
        <Text color="alarm" whiteSpace="pre-wrap">
          {said}
        </Text>
      </Flex>
    </SidePanel>
  )
}
