'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import {
  type ArrivedAs,
  type ArrivedValue,
  arrivedAs,
  type ParameterArrivals,
} from '@/core/links/parameterArrivals'
import { type NetworkProfile, planLevels } from '@/core/links/profile'
import type { GatheredArrivals } from '@/server/links/arrivals'
import { textureStyle } from '../evidence/texture'
import { type Formats, useFormats } from '../format'
import { Note, Page, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useServer } from '../parts/useServer'
import { Mono, WordLink } from '../parts/WordLink'
import { levelName, tokenWords } from './linkWords'
import { type JoinNew, UndecidedAds } from './UndecidedAds'
import { type AssignValue, UnknownValues } from './UnknownValues'

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
  assign,
  join,
}: {
  network: string | null
  profiles: readonly NetworkProfile[]
  assign: AssignValue
  join: JoinNew
}) {
  const formats = useFormats()
  const { count } = formats
  const {
    answer: gathered,
    problem,
    again,
  } = useServer<Gathered>('/api/links/arrivals', {
    refreshInterval: LOOK_AGAIN_MS,
  })
  const parameters = (gathered?.parameters ?? []).filter(p => !network || p.network === network)
  const wrong = parameters.filter(p => wrongOf(p) > 0)
  return (
    <Page
      at="/links/arrivals"
      says={
        gathered === undefined
          ? problem
            ? `The arrivals could not be fetched: ${problem}.`
            : 'Reading the last days’ clicks …'
          : parameters.length === 0
            ? 'No ad click has come in the last days. Put a link on an ad and click it: it shows here within seconds.'
            : wrong.length === 0
              ? `All ${parameters.length} parameters arrive as planned, in ${count(gathered.clicks)} clicks of the last ${gathered.days} days.`
              : `In ${count(gathered.clicks)} clicks of the last ${gathered.days} days, ${wrong.length} of ${parameters.length} parameters did not always arrive as planned.`
      }
    >
      {gathered && gathered.unknown.length > 0 && (
        <UnknownValues
          values={gathered.unknown.filter(v => !network || v.network === network)}
          profiles={profiles}
          assign={assign}
          assigned={again}
        />
      )}
      {gathered && gathered.undecided.length > 0 && (
        <UndecidedAds
          undecided={gathered.undecided.filter(v => !network || v.network === network)}
          profiles={profiles}
          join={join}
          joined={again}
        />
      )}
      {gathered?.cut && <Note>There were more clicks than are read here; these are the latest.</Note>}
      {profiles.map(profile => {
        const own = parameters.filter(p => p.network === profile.id)
        return (
          own.length > 0 && (
            <Section key={profile.id} title={profile.name}>
              <DataTable
                label={`Arrivals at ${profile.name} by parameter`}
                columns={columnsOf(profile, formats)}
                rows={own}
                rowId={p => `${p.network} ${p.key}`}
                detail={p => <Arrived parameter={p} profile={profile} names={gathered?.names ?? {}} />}
              />
            </Section>
          )
        )
      })}
    </Page>
  )
}

const columnsOf = (profile: NetworkProfile, { count }: Formats): Column<ParameterArrivals>[] => [
  {
    id: 'key',
    heading: 'parameter',
    words: true,
    width: 170,
    value: p => p.key,
    cell: p => <Mono>{p.key}</Mono>,
  },
  { id: 'holds', words: true, width: 130, value: p => (p.token ? tokenWords(p.token, profile) : 'text') },
  {
    id: 'share',
    heading: 'share that arrived as planned',
    words: true,
    width: 300,
    value: p => p.counts.resolved / totalOf(p),
    cell: p => (
      <Flex height="12px" minWidth="260px" aria-hidden>
        <Box width={`${(100 * p.counts.resolved) / totalOf(p)}%`} {...textureStyle('proven', 'shop')} />
        {wrongOf(p) > 0 && (
          <Box
            minWidth="5px"
            width={`${(100 * wrongOf(p)) / totalOf(p)}%`}
            {...textureStyle('claimed', 'network')}
          />
        )}
      </Flex>
    ),
  },
  ...arrivedAs.map(
    (as): Column<ParameterArrivals> => ({
      id: as,
      heading: asWords[as],
      value: p => p.counts[as],
      cell: p => (
        <Text
          as="span"
          color={as !== 'resolved' && p.counts[as] > 0 ? 'alarm' : undefined}
          title={`${count(p.counts[as])} clicks`}
        >
          {p.counts[as] === 0 ? '·' : share(p.counts[as], totalOf(p))}
        </Text>
      ),
    }),
  ),
]

/** With what a parameter arrived, what is wrong first. */
const Arrived = ({
  parameter,
  profile,
  names,
}: {
  parameter: ParameterArrivals
  profile: NetworkProfile
  names: Gathered['names']
}) => {
  const { count } = useFormats()
  return wrongFirst
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
    ))
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
  const { count } = useFormats()
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
          <WordLink href={href}>
            {first.ad ? `at ${names[`${network}/ad/${first.ad}`]?.name ?? first.ad}, ` : ''}set at{' '}
            {levelName(profile, first.level)}
          </WordLink>
        )}
      </Flex>
    )
  })
}
