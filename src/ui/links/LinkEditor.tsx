'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { Copy } from 'lucide-react'
import { useMemo, useRef, useState, useTransition } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { assembleLink, sampleValue } from '@/core/links/assemble'
import type { LinkFinding } from '@/core/links/finding'
import type { TagPlan } from '@/core/links/plan'
import { type PlanLevel, planLevels } from '@/core/links/profile'
import type { DescribedLink } from '@/server/links'
import { findingWords } from './findingWords'
import { Chip, TemplateField } from './TemplateField'

export interface LinkActions {
  changePlan: (change: {
    network: string
    level: PlanLevel
    scope: string
    parameters: Record<string, string>
  }) => Promise<void>
  putOnPractice: (network: string, adId: string) => Promise<boolean>
}

const SAVE_AFTER_MS = 400

/** One ad's link: the plan by level, the address in the network's fields, a preview and the findings. */
export function LinkEditor({ described, actions }: { described: DescribedLink; actions: LinkActions }) {
  const { profile, profiles, input, path, landingPage, practised } = described
  const [plan, setPlan] = useState<TagPlan>(described.plan)
  const [level, setLevel] = useState<PlanLevel>('account')
  const [past, setPast] = useState<TagPlan[]>([])
  const [said, setSaid] = useState('')
  const [saving, startSaving] = useTransition()
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  /** what is shown but not stored yet */
  const pending = useRef<{ plan: TagPlan; changed: Set<PlanLevel> } | null>(null)
  const levelName = (l: PlanLevel) => profile.level_names[l] ?? l.replace('_', ' ')

  const link = useMemo(
    () => assembleLink({ profile, plan, otherProfiles: profiles, ...input }),
    [profile, profiles, plan, input],
  )
  const renamed = described.link.findings.filter(f => f.code === 'name_changed')
  const findings: LinkFinding[] = [...link.findings, ...renamed]

  const flush = async () => {
    clearTimeout(timer.current)
    const { current } = pending
    if (!current) return
    pending.current = null
    for (const l of current.changed)
      await actions.changePlan({
        network: profile.id,
        level: l,
        scope: path.find(p => p.level === l)?.id ?? '',
        parameters: current.plan[l] ?? {},
      })
  }
  const store = (next: TagPlan, changed: readonly PlanLevel[]) => {
    setPlan(next)
    pending.current = { plan: next, changed: new Set([...(pending.current?.changed ?? []), ...changed]) }
    clearTimeout(timer.current)
    timer.current = setTimeout(() => startSaving(flush), SAVE_AFTER_MS)
  }
  const edit = (parameters: Record<string, string>) => {
    setPast([...past, plan])
    store({ ...plan, [level]: parameters }, [level])
  }
  const undo = () => {
    const before = past.at(-1)
    if (!before) return setSaid('Nothing to undo.')
    setPast(past.slice(0, -1))
    store(before, planLevels)
    setSaid('The last change is undone.')
  }
  const copy = async (text: string, what: string) => {
    await navigator.clipboard.writeText(text).then(
      () => setSaid(`${what} copied.`),
      () => setSaid('The browser did not allow copying; select the text instead.'),
    )
  }
  const putOnPractice = async () => {
    await flush()
    setSaid(
      (await actions.putOnPractice(profile.id, path.at(-1)!.id))
        ? `The practice ${profile.name} has it.`
        : 'The practice ground does not answer.',
    )
  }
  useHotkeys('u', undo, [past])
  useHotkeys('c', () => void copy(link.address, 'Address'), [link.address])

  const own = plan[level] ?? {}
  const origins = link.origin
  const sample = (token: string) => sampleValue(input.sample, token)
  const above = link.parameters.filter(
    p => !(p.key in own) && planLevels.indexOf(p.origin) < planLevels.indexOf(level),
  )
  return (
    <Box px="5" py="4" flex="1" minWidth="0" overflowY="auto" height="100%">
      <Text color="quiet" fontSize="13px">
        {path.map(p => p.name).join(' › ')}
      </Text>
      <Text as="h1" fontSize="19px" mb="3">
        {findings.some(f => f.severity === 'error')
          ? 'This link would lose clicks: see the findings.'
          : 'A click on this ad arrives with its campaign, ad set and ad named.'}
      </Text>

      <Flex borderBottomWidth="1px" borderColor="ink">
        <Flex role="tablist" aria-label="Level of the tag plan" gap="0">
          {planLevels.map(l => (
            <Box
              as="button"
              role="tab"
              aria-selected={l === level}
              key={l}
              px="3"
              py="1"
              cursor="pointer"
              fontWeight={l === level ? 700 : 400}
              bg={l === level ? 'mark' : undefined}
              onClick={() => setLevel(l)}
            >
              {levelName(l)}
              <Text as="span" color="quiet" fontSize="12px">
                {' '}
                {Object.keys(plan[l] ?? {}).length || ''}
              </Text>
            </Box>
          ))}
        </Flex>
        <Text ml="auto" alignSelf="center" fontSize="12px" color="quiet" aria-live="polite">
          {saving ? 'saving …' : said}
        </Text>
      </Flex>

      <Box
        as="table"
        width="100%"
        fontSize="13px"
        css={{
          '& td, & th': {
            padding: '4px 8px 4px 0',
            verticalAlign: 'top',
            borderBottom: '1px solid var(--chakra-colors-hairline)',
          },
        }}
      >
        <thead>
          <tr>
            <Box as="th" textAlign="left" color="quiet" fontWeight="500" width="160px">
              parameter
            </Box>
            <Box as="th" textAlign="left" color="quiet" fontWeight="500">
              value
            </Box>
            <Box as="th" textAlign="left" color="quiet" fontWeight="500" width="150px">
              set at
            </Box>
          </tr>
        </thead>
        <tbody>
          {above.map(p => (
            <tr key={`above ${p.key}`}>
              <Box as="td" fontFamily="mono" fontSize="12px" color="quiet">
                {p.key}
              </Box>
              <Box as="td" color="quiet">
                <Flex gap="1" wrap="wrap">
                  {p.segments.map((s, i) =>
                    s.kind === 'token' ? (
                      <Chip key={`${s.token}${i}`} token={s.token} known={s.known} />
                    ) : (
                      <span key={`${s.text}${i}`}>{s.text}</span>
                    ),
                  )}
                </Flex>
              </Box>
              <Box as="td" color="quiet">
                {levelName(p.origin)}{' '}
                <Box
                  as="button"
                  cursor="pointer"
                  textDecoration="underline"
                  onClick={() => edit({ ...own, [p.key]: p.template })}
                >
                  override
                </Box>
              </Box>
            </tr>
          ))}
          {Object.entries(own).map(([key, template]) => (
            <tr key={key}>
              <Box as="td" fontFamily="mono" fontSize="12px">
                {key}
              </Box>
              <td>
                <TemplateField
                  label={key}
                  template={template}
                  profile={profile}
                  sample={sample}
                  change={next => edit({ ...own, [key]: next })}
                />
              </td>
              <td>
                {template === ''
                  ? 'removed here'
                  : origins[key] === level
                    ? levelName(level)
                    : `overridden at ${levelName(origins[key] ?? level)}`}{' '}
                <Box
                  as="button"
                  cursor="pointer"
                  textDecoration="underline"
                  onClick={() => edit(Object.fromEntries(Object.entries(own).filter(([k]) => k !== key)))}
                >
                  clear
                </Box>
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
      <AddParameter add={key => edit({ ...own, [key]: '' })} taken={key => key in own} />

      <Flex mt="5" gap="8" align="start" wrap="wrap">
        <Box flex="1 1 420px" minWidth="0">
          <Text as="h2" fontWeight="650">
            Paste this at {profile.name}
          </Text>
          {Object.entries(link.fields).map(([field, text]) => (
            <Output
              key={field}
              label={field.replaceAll('_', ' ')}
              text={text}
              copy={() => void copy(text, field.replaceAll('_', ' '))}
            />
          ))}
          {Object.keys(link.fields).length > 1 && (
            <Output
              label="whole address"
              text={link.address}
              copy={() => void copy(link.address, 'Address')}
            />
          )}
          <Text as="h2" fontWeight="650" mt="4">
            What a click then carries
          </Text>
          <Text fontFamily="mono" fontSize="12px" wordBreak="break-all" data-testid="preview">
            {link.preview || '—'}
          </Text>
          <Text color="quiet" fontSize="12px" mt="1">
            It passes the tracking domain, is recorded there, and goes on to{' '}
            {landingPage ?? 'the landing page, once one is set'}.
          </Text>
          {practised && landingPage && (
            <Box as="button" className="field" mt="3" cursor="pointer" onClick={putOnPractice}>
              Put it on the practice {profile.name}
            </Box>
          )}
        </Box>
        <Box flex="1 1 300px" minWidth="0">
          <Text as="h2" fontWeight="650">
            {findings.length === 0
              ? 'No findings'
              : findings.length === 1
                ? 'One finding'
                : `${findings.length} findings`}
          </Text>
          {findings.map((f, i) => (
            <Box key={`${f.code}${i}`} borderTopWidth="1px" borderColor="hairline" py="1.5" fontSize="13px">
              <Text
                as="span"
                fontWeight="650"
                color={f.severity === 'error' ? 'alarm' : f.severity === 'warning' ? 'network' : 'quiet'}
              >
                {f.severity}
              </Text>
              {f.at.part === 'parameter' ? ` in ${f.at.key}` : ''}: {findingWords(f)}
            </Box>
          ))}
        </Box>
      </Flex>
    </Box>
  )
}

function Output({ label, text, copy }: { label: string; text: string; copy: () => void }) {
  return (
    <Box borderTopWidth="1px" borderColor="hairline" py="1.5">
      <Flex justify="space-between" color="quiet" fontSize="12px">
        <span>{label}</span>
        <Box
          as="button"
          aria-label={`Copy the ${label}`}
          cursor="pointer"
          onClick={copy}
          display="inline-flex"
          gap="1"
          alignItems="center"
        >
          <Copy size={12} /> copy
        </Box>
      </Flex>
      <Text fontFamily="mono" fontSize="12px" wordBreak="break-all" data-testid={`field ${label}`}>
        {text || '—'}
      </Text>
    </Box>
  )
}

function AddParameter({ add, taken }: { add: (key: string) => void; taken: (key: string) => boolean }) {
  const [key, setKey] = useState('')
  const known = taken(key.trim())
  return (
    <Flex
      as="form"
      mt="2"
      gap="2"
      align="center"
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault()
        if (!key.trim() || known) return
        add(key.trim())
        setKey('')
      }}
    >
      <input
        className="field"
        aria-label="New parameter"
        placeholder="utm_… or any key"
        value={key}
        onChange={e => setKey(e.target.value)}
        style={{ fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}
      />
      <Box as="button" className="field" cursor="pointer">
        Add parameter
      </Box>
      {known && (
        <Text fontSize="12px" color="alarm">
          It is set at this level already.
        </Text>
      )}
    </Flex>
  )
}
