'use client'
import { Box, Button, Input, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useState, useTransition } from 'react'
import { type NamedLevel, type NamingRule, namedLevels, readName, ruleFor } from '@/core/links/naming'
import type { NetworkProfile } from '@/core/links/profile'
import type { NewAd } from '@/server/links/changes'
import { Select } from '../parts/Fields'
import { SidePanel } from '../parts/SidePanel'
import { levelName } from './linkWords'
import { nameProblemWords } from './nameWords'

const unnamed = { id: '', name: '' }

/** A campaign that no report has named yet: its names, the network's IDs, and where its ad leads. */
export function NewAdPanel({
  profiles,
  rules,
  names,
  network,
  save,
  added,
  close,
}: {
  profiles: readonly NetworkProfile[]
  rules: readonly NamingRule[]
  /** names of campaigns and ad sets by `network/level/id`: one that is there already brings its ID */
  names: Readonly<Record<string, string>>
  network: string
  save: (ad: NewAd) => Promise<string | null>
  added: (key: string) => void
  close: () => void
}) {
  const [draft, setDraft] = useState({
    network,
    campaign: unnamed,
    ad_set: unnamed,
    ad: unnamed,
    landing_page: '',
  })
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, start] = useTransition()
  const profile = profiles.find(p => p.id === draft.network)
  const levels = namedLevels.filter(level => profile?.levels.includes(level))
  const knownAt = (level: NamedLevel) => {
    const begin = `${draft.network}/${level}/`
    return Object.entries(names).flatMap(([key, known]) =>
      key.startsWith(begin) ? [[key.slice(begin.length), known] as const] : [],
    )
  }
  const name = (level: NamedLevel, to: string) => {
    const known = level === 'ad' ? [] : knownAt(level)
    const same = known.find(([, called]) => called === to)
    // An ID that came with another name goes with it.
    const own = known.some(([id]) => id === draft[level].id) ? '' : draft[level].id
    setDraft({ ...draft, [level]: { id: same?.[0] ?? own, name: to } })
  }
  return (
    <SidePanel title="A new ad" close={close}>
      <form
        onSubmit={event => {
          event.preventDefault()
          start(async () => {
            const { network, ad, landing_page } = draft
            const above = levels.filter(level => level !== 'ad').map(level => [level, draft[level]])
            const wrong = await save({ network, ad, landing_page, ...Object.fromEntries(above) })
            setProblem(wrong)
            if (wrong === null) added(`${draft.network}/${draft.ad.id.trim()}`)
          })
        }}
      >
        <label>
          Network
          <Select
            width="100%"
            value={draft.network}
            onChange={e => setDraft({ ...draft, network: e.target.value })}
          >
            {profiles.map(p => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </Select>
        </label>
        {profile &&
          levels.map(level => {
            const label = levelName(profile, level)
            return (
              <Box as="fieldset" key={level} mt="2" border="0">
                <Text as="legend" textTransform="capitalize">
                  {label}
                </Text>
                <Input
                  required
                  aria-label={`Name of the ${label}`}
                  placeholder="name"
                  maxLength={200}
                  value={draft[level].name}
                  list={`names of ${level}`}
                  onChange={e => name(level, e.target.value)}
                />
                <datalist id={`names of ${level}`}>
                  {knownAt(level).map(([id, known]) => (
                    <option key={id} value={known} />
                  ))}
                </datalist>
                <NameHint
                  rule={ruleFor(rules, draft.network, level)}
                  name={draft[level].name}
                  take={fitting => name(level, fitting)}
                />
                <Input
                  required
                  style={{ marginTop: 4 }}
                  aria-label={`ID of the ${label}`}
                  placeholder={`ID, as ${profile.name} shows it`}
                  maxLength={200}
                  value={draft[level].id}
                  onChange={e => setDraft({ ...draft, [level]: { ...draft[level], id: e.target.value } })}
                />
              </Box>
            )
          })}
        <Box mt="2">
          <label>
            Landing page
            <Input
              placeholder="https://…"
              maxLength={4096}
              value={draft.landing_page}
              onChange={e => setDraft({ ...draft, landing_page: e.target.value })}
            />
          </label>
        </Box>
        {problem && (
          <Text color="alarm" mt="2" role="alert" whiteSpace="pre-wrap">
            {problem}
          </Text>
        )}
        <Button type="submit" style={{ marginTop: 12 }} disabled={busy}>
          {busy ? 'Adding …' : 'Add the ad'}
        </Button>
        <Text mt="4" color="quiet" fontSize="13px">
          Many at once: reports bring their ads with them, and{' '}
          <Link href="/intake/import" style={{ textDecoration: 'underline' }}>
            ads.csv
          </Link>{' '}
          brings names, IDs, landing pages and what stands at the network.
        </Text>
      </form>
    </SidePanel>
  )
}

/** What keeps a name that is being typed from its rule, and the name that would fit. */
function NameHint({
  rule,
  name,
  take,
}: {
  rule: NamingRule | null
  name: string
  take: (name: string) => void
}) {
  if (!rule) return null
  const pattern = rule.parts.map(p => p.name).join(rule.separator)
  const { parts, problems, proposal } = readName(rule, name)
  return (
    <Text fontSize="12px" color={name && parts === null ? 'alarm' : 'quiet'} aria-live="polite">
      {name === ''
        ? `named as ${pattern}`
        : parts
          ? `keeps to ${pattern}`
          : `${nameProblemWords(problems)}; named as ${pattern}. `}
      {name !== '' && proposal && (
        <Button variant="plain" onClick={() => take(proposal)}>
          Use {proposal}
        </Button>
      )}
    </Text>
  )
}
