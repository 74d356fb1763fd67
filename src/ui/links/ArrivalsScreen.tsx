'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useEffect, useState } from 'react'
import {
  type ArrivedAs,
  type ArrivedValue,
  arrivedAs,
  type ParameterArrivals,
} from '@/core/links/parameterArrivals'
import { type NetworkProfile, planLevels } from '@/core/links/profile'
import type { GatheredArrivals } from '@/server/links/arrivals'
import { textureStyle } from '../evidence/texture'
import { count } from '../format'
import { PartNav } from '../parts/PartNav'
import { levelName, tokenWords } from './linkWords'

type Gathered = Omit<GatheredArrivals, 'ads'>
const asWords: Record<ArrivedAs, string> = {
  resolved: 'resolved',
  unresolved: 'unresolved',
  empty: 'empty',
  unknown: 'unknown value',
  missing: 'missing',
}
const causes: Record<Exclude<ArrivedAs, 'resolved'>, string> = {
  unresolved:
    'The network passed its token on unfilled: it stands in a field that the network does not fill, or is misspelt.',
  empty: 'The network had nothing to fill in: no keyword, or a placement that it does not name.',
  unknown:
    'Nobody knows this value: no campaign, ad set or ad of that name or ID, or other text than the plan has.',
  missing: 'The click came without it: another address stands at the network, or a hop lost it.',
}
const wrongFirst: ArrivedAs[] = [...arrivedAs.filter(as => as !== 'resolved'), 'resolved']
const LOOK_AGAIN_MS = 3000
const wrongOf = ({ counts }: ParameterArrivals) =>
  counts.unresolved + counts.empty + counts.unknown + counts.missing
/** Tenths, so that a line adds up to the whole; never the whole unless it is. */
const share = (part: number, total: number) =>
  part === total ? '100 %' : `${(Math.min(999, Math.round((1000 * part) / total)) / 10).toFixed(1)} %`
const totalOf = (p: ParameterArrivals) => wrongOf(p) + p.counts.resolved

/** Arrivals: what every planned parameter really held when clicks came, and which level causes what is wrong. */
export function ArrivalsScreen({
  network,
  profiles,
}: {
  network: string | null
  profiles: readonly NetworkProfile[]
}) {
  const [gathered, setGathered] = useState<Gathered | null>(null)
  const [problem, setProblem] = useState('')
  const [opened, setOpened] = useState<string | null>(null)
  useEffect(() => {
    let left = false
    let timer: ReturnType<typeof setTimeout>
    const look = async () => {
      try {
        const response = await fetch('/api/links/arrivals')
        if (!response.ok) throw new Error(`the server answered ${response.status}`)
        const fetched: Gathered = await response.json()
        if (!left) setGathered(fetched)
        setProblem('')
      } catch (error) {
        if (!left)
          setProblem(`The arrivals could not be fetched: ${error instanceof Error ? error.message : error}.`)
      }
      if (!left) timer = setTimeout(look, LOOK_AGAIN_MS)
    }
    void look()
    return () => {
      left = true
      clearTimeout(timer)
    }
  }, [])
  const parameters = (gathered?.parameters ?? []).filter(p => !network || p.network === network)
  const wrong = parameters.filter(p => wrongOf(p) > 0)
  return (
    <Box px="5" pt="4" pb="8" maxWidth="76rem">
      <PartNav here="/links/arrivals" />
      <Text as="h1" fontSize="19px">
        {gathered === null
          ? problem || 'Reading the last days’ clicks …'
          : parameters.length === 0
            ? 'No ad click has come in the last days. Put a link on an ad and click it: it shows here within seconds.'
            : wrong.length === 0
              ? `All ${parameters.length} parameters arrive as planned, in ${count(gathered.clicks)} clicks of the last ${gathered.days} days.`
              : `In ${count(gathered.clicks)} clicks of the last ${gathered.days} days, ${wrong.length} of ${parameters.length} parameters did not always arrive as planned.`}
      </Text>
      {gathered?.cut && (
        <Text color="quiet" fontSize="13px">
          There were more clicks than are read here; these are the latest.
        </Text>
      )}
      {profiles.map(profile => {
        const own = parameters.filter(p => p.network === profile.id)
        return (
          own.length > 0 && (
            <Box as="section" key={profile.id} mt="4" aria-label={profile.name}>
              <Text as="h2" fontSize="15px" fontWeight="650">
                {profile.name}
              </Text>
              <table className="ledger">
                <thead>
                  <tr>
                    <th style={{ width: 170 }}>parameter</th>
                    <th style={{ textAlign: 'left', width: 130 }}>holds</th>
                    <th style={{ textAlign: 'left' }}>share that arrived as planned</th>
                    {arrivedAs.map(as => (
                      <th key={as}>{asWords[as]}</th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {own.map(parameter => {
                    const key = `${parameter.network} ${parameter.key}`
                    return (
                      <ParameterLine
                        key={key}
                        parameter={parameter}
                        profile={profile}
                        names={gathered?.names ?? {}}
                        open={opened === key}
                        toggle={() => setOpened(opened === key ? null : key)}
                      />
                    )
                  })}
                </tbody>
              </table>
            </Box>
          )
        )
      })}
    </Box>
  )
}

function ParameterLine({
  parameter,
  profile,
  names,
  open,
  toggle,
}: {
  parameter: ParameterArrivals
  profile: NetworkProfile
  names: Gathered['names']
  open: boolean
  toggle: () => void
}) {
  const total = totalOf(parameter)
  return (
    <>
      <tr>
        <td>
          <Button
            variant="plain"
            aria-expanded={open}
            style={{ fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}
            onClick={toggle}
          >
            {parameter.key}
          </Button>
        </td>
        <td style={{ textAlign: 'left' }}>
          {parameter.token ? tokenWords(parameter.token, profile) : 'text'}
        </td>
        <td>
          <Flex height="12px" width="100%" aria-hidden>
            <Box
              width={`${(100 * parameter.counts.resolved) / total}%`}
              {...textureStyle('proven', 'shop')}
            />
            {wrongOf(parameter) > 0 && (
              <Box
                minWidth="5px"
                width={`${(100 * wrongOf(parameter)) / total}%`}
                {...textureStyle('claimed', 'network')}
              />
            )}
          </Flex>
        </td>
        {arrivedAs.map(as => (
          <td
            key={as}
            style={{
              color: as !== 'resolved' && parameter.counts[as] > 0 ? 'var(--chakra-colors-alarm)' : undefined,
            }}
            title={`${count(parameter.counts[as])} clicks`}
          >
            {parameter.counts[as] === 0 ? '·' : share(parameter.counts[as], total)}
          </td>
        ))}
      </tr>
      {open && (
        <tr>
          <td colSpan={8} style={{ whiteSpace: 'normal', textAlign: 'left', padding: '4px 0 12px 16px' }}>
            {wrongFirst
              .filter(as => parameter.counts[as] > 0)
              .map(as => (
                <Box key={as} mt="2">
                  <Text color={as === 'resolved' ? 'quiet' : 'alarm'}>
                    {count(parameter.counts[as])} {asWords[as]}
                    {as !== 'resolved' && `. ${causes[as]}`}
                  </Text>
                  <Values
                    values={parameter.values.filter(v => v.as === as)}
                    parameter={parameter}
                    profile={profile}
                    names={names}
                  />
                </Box>
              ))}
          </td>
        </tr>
      )}
    </>
  )
}

/** Values together that name the same campaign, ad set or ad, under whichever name it had. */
function together(values: readonly ArrivedValue[]): ArrivedValue[][] {
  const groups = new Map<string, ArrivedValue[]>()
  for (const value of values) {
    const key = value.names === null ? `value ${value.value} ${value.level}` : `names ${value.names}`
    groups.set(key, [...(groups.get(key) ?? []), value])
  }
  return [...groups.values()]
}

function Values({
  values,
  parameter: { key, token, network },
  profile,
  names,
}: {
  values: readonly ArrivedValue[]
  parameter: ParameterArrivals
  profile: NetworkProfile
  names: Gathered['names']
}) {
  return together(values).map(group => {
    const [first] = group
    if (!first) return null
    const id = `${network}/${token?.split('.')[0]}/${first.names}`
    const called = names[id]
    const href = `/links?${new URLSearchParams({ ad: `${network}/${first.ad}`, parameter: key, level: first.level })}`
    return (
      <Flex
        key={`${first.value} ${first.level}`}
        gap="3"
        align="baseline"
        borderTopWidth="1px"
        borderColor="hairline"
        py="0.5"
      >
        <Text width="56px" textAlign="right" flexShrink={0}>
          {count(group.reduce((sum, v) => sum + v.count, 0))}
        </Text>
        <Text flex="1" minWidth="0" fontFamily="mono" fontSize="12px" overflowWrap="anywhere">
          {group.map(v => v.value || '(nothing)').join(' · ')}
        </Text>
        {called && called.former.length > 0 && (
          <Text color="quiet">
            one {levelName(profile, planLevels.find(l => token?.startsWith(`${l}.`)) ?? 'ad')}: {called.name},
            before {called.former.join(', ')}
          </Text>
        )}
        {first.as !== 'resolved' && (
          <Link href={href} style={{ textDecoration: 'underline', whiteSpace: 'nowrap' }}>
            {first.ad ? `at ${names[`${network}/ad/${first.ad}`]?.name ?? first.ad}, ` : ''}set at{' '}
            {levelName(profile, first.level)}
          </Link>
        )}
      </Flex>
    )
  })
}
