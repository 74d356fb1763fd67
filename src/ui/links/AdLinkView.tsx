'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useEffect, useMemo, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { adLink, sampleValues } from '@/core/links/adLink'
import { sampleValue } from '@/core/links/assemble'
import { type LinkChange, type Parameters, scopeKey, scopeOf } from '@/core/links/change'
import type { LinkFinding } from '@/core/links/finding'
import { fixOf } from '@/core/links/fix'
import { identifiesAd } from '@/core/links/identified'
import type { Sample } from '@/core/links/linkInput'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels } from '@/core/links/profile'
import { reachOf } from '@/core/links/reach'
import { planOfAd } from '@/core/links/survey'
import { usualPlan } from '@/core/links/usualPlan'
import { severityRank } from '@/core/shared/finding'
import { AddParameter } from './AddParameter'
import { CellEditor } from './CellEditor'
import { Findings } from './Findings'
import { LeadsField } from './LeadsField'
import { levelName } from './linkWords'
import { Outputs } from './Outputs'
import { type Cell, keysOf, type Own, PlanGrid } from './PlanGrid'
import { type LinkStation, type StationAd, trackedOf } from './station'
import type { Station } from './useStation'

export type Aside = 'paste' | 'try' | 'new'

/** The names of an ad, its campaign and ad set. */
export const namesOf = (ad: StationAd, station: LinkStation): Record<PlanLevel, string> => ({
  account: '',
  campaign: station.names[`${ad.network}/campaign/${ad.campaignId}`] ?? ad.campaignId,
  ad_set: station.names[`${ad.network}/ad_set/${ad.adSetId}`] ?? ad.adSetId,
  ad: ad.name,
})

export function sampleOf(ad: StationAd, station: LinkStation): Sample {
  const names = namesOf(ad, station)
  return {
    ...sampleValues,
    campaign: { id: ad.campaignId, name: names.campaign },
    ad_set: { id: ad.adSetId, name: names.ad_set },
    ad: { id: ad.id, name: ad.name },
  }
}

/** One ad's link as the station has it at the moment. */
export function linkOf(ad: StationAd, station: LinkStation, own: Station['own'], profile: NetworkProfile) {
  const { landingPage, straight } = ad
  return adLink({
    landingPage,
    straight,
    tracked: trackedOf(station, ad),
    profile,
    plan: planOfAd(ad, own),
    sample: sampleOf(ad, station),
    hosts: station.hosts,
    otherProfiles: station.profiles,
  })
}

/** Renames, and names that others of the same parent have too: told by all that is known of the ads. */
const findingsOfNames = (ad: StationAd, station: LinkStation): LinkFinding[] =>
  planLevels
    .flatMap(level => station.nameFindings.get(scopeKey(scopeOf(ad, level))) ?? [])
    .filter(f => f.code === 'name_changed' || f.code === 'duplicate_name')

/** One ad's link: its plan by level, the address in the network's fields, a preview and the findings. */
export function AdLinkView({
  ad,
  profile,
  station,
  work,
  focused,
  aside,
  putOnPractice,
}: {
  ad: StationAd
  profile: NetworkProfile
  station: LinkStation
  work: Station
  /** the cell that the address asks for */
  focused: Cell | null
  aside: (what: Aside) => void
  putOnPractice: (ads: readonly StationAd[]) => Promise<void>
}) {
  const [editing, setEditing] = useState<Cell | null>(focused)
  useEffect(() => setEditing(focused), [focused])
  const { own: ownOf, apply, say } = work
  const scope = (level: PlanLevel) => scopeOf(ad, level)
  const own: Own = useMemo(
    () => Object.fromEntries(planLevels.map(level => [level, ownOf(scopeOf(ad, level))])) as Own,
    [ad, ownOf],
  )
  const link = useMemo(() => linkOf(ad, station, ownOf, profile), [ad, station, ownOf, profile])
  const findings = useMemo(
    () =>
      [...link.findings, ...findingsOfNames(ad, station)].sort(
        (a, b) => severityRank[a.severity] - severityRank[b.severity],
      ),
    [link, ad, station],
  )
  const sample = sampleOf(ad, station)
  const names = namesOf(ad, station)
  const levels = levelsOf(profile).filter(level => level !== 'account')

  const change = (level: PlanLevel, after: Parameters, under: string | null = null) =>
    apply([{ what: 'plan', ...scope(level), before: own[level], after }], under)
  const without = (level: PlanLevel, key: string) =>
    Object.fromEntries(Object.entries(own[level]).filter(([k]) => k !== key))
  const set = (cell: Cell) => (template: string | null) => {
    if (template === null) {
      change(cell.level, without(cell.level, cell.key))
      setEditing(null)
    } else
      change(cell.level, { ...own[cell.level], [cell.key]: template }, `${ad.id} ${cell.level} ${cell.key}`)
  }
  const setAt = (cell: Cell) => (level: PlanLevel, template: string) => {
    const moved: LinkChange[] = [
      { what: 'plan', ...scope(level), before: own[level], after: { ...own[level], [cell.key]: template } },
    ]
    if (cell.key in own[cell.level])
      moved.push({
        what: 'plan',
        ...scope(cell.level),
        before: own[cell.level],
        after: without(cell.level, cell.key),
      })
    apply(moved)
    setEditing({ key: cell.key, level })
  }
  const reorder = (level: PlanLevel, keys: string[]) =>
    change(level, Object.fromEntries(keys.map(key => [key, own[level][key]!])))
  const fixable = (finding: LinkFinding) =>
    fixOf({ link, profile, otherProfiles: station.profiles, own, scope, ad }, finding)
  const fix = (changes: LinkChange[]) => {
    apply(changes)
    say('Mended. Press u to undo it.')
  }
  const fixFirst = () => {
    const changes = findings.map(fixable).find(c => c.length > 0)
    if (changes) fix(changes)
    else say('No finding here can be mended without deciding something.')
  }
  const copy = async (text: string, what: string) => {
    await navigator.clipboard.writeText(text).then(
      () => say(`${what} copied.`),
      () => say('The browser did not allow copying; select the text instead.', true),
    )
  }
  useHotkeys('f', fixFirst, [findings, own, ad])
  useHotkeys('c', () => void copy(link.address, 'Address'), [link.address])
  useHotkeys('p', () => aside('paste'), [aside])
  useHotkeys('t', () => aside('try'), [aside])

  return (
    <>
      <Flex justify="space-between" gap="3" rowGap="1" align="baseline" wrap="wrap">
        <Text color="quiet" fontSize="13px" minWidth="200px" flex="1" overflowWrap="anywhere">
          {[profile.name, ...levels.map(level => names[level])].join(' › ')}{' '}
          <Text
            as="span"
            fontFamily="mono"
            fontSize="12px"
            ml="2"
            title={`The IDs of ${levels.map(level => levelName(profile, level)).join(', ')}`}
          >
            {levels.map(level => scope(level).scope).join(' › ')}
          </Text>
        </Text>
        <Flex gap="2" flexShrink={0} fontSize="13px">
          <Button onClick={() => aside('paste')}>
            Paste an address <kbd>p</kbd>
          </Button>
          <Button onClick={() => aside('try')}>
            Try it <kbd>t</kbd>
          </Button>
          <Button asChild>
            <Link href={`/links/library?${new URLSearchParams({ ad: `${ad.network}/${ad.id}` })}`}>
              Save the link
            </Link>
          </Button>
        </Flex>
      </Flex>
      <LeadsField
        key={`${ad.network}/${ad.id}/${ad.landingPage}`}
        ad={ad}
        profile={profile}
        link={link}
        apply={apply}
      />
      <PlanGrid
        own={own}
        profile={profile}
        scopeNames={names}
        editing={editing}
        edit={cell =>
          setEditing(known => (known?.key === cell.key && known.level === cell.level ? null : cell))
        }
        reorder={reorder}
        editor={
          editing && (
            <CellEditor
              key={`${editing.key} ${editing.level}`}
              cell={editing}
              own={own}
              profile={profile}
              scopeName={names[editing.level]}
              sample={token => sampleValue(sample, token)}
              set={set(editing)}
              setAt={setAt(editing)}
              close={() => setEditing(null)}
            />
          )
        }
      />
      {keysOf(own).length === 0 && (
        <Flex mt="2" gap="3" align="center" fontSize="13px">
          <Text>Nothing is set yet: a click would not say where it came from.</Text>
          <Button onClick={() => change('account', usualPlan(profile, station.keys))}>
            Set the usual for all of {profile.name}
          </Button>
        </Flex>
      )}
      {keysOf(own).length > 0 && !identifiesAd(planOfAd(ad, ownOf)) && (
        <Text mt="2" color="network" fontSize="13px" role="status">
          Nothing in this address identifies the ad: orders without a click ID will have no ad. Add its ID or
          name.
        </Text>
      )}
      <AddParameter
        profile={profile}
        taken={(key, level) => key in own[level]}
        add={(key, level) => {
          change(level, { ...own[level], [key]: '' })
          setEditing({ key, level })
        }}
      />

      <Flex mt="4" gap="8" align="start">
        <Box flex="1 1 56%" minWidth="0">
          <Outputs link={link} profile={profile} copy={(text, what) => void copy(text, what)} />
          <Text as="h2" fontWeight="650" mt="3">
            What a click then carries
          </Text>
          <Text fontFamily="mono" fontSize="12px" wordBreak="break-all" data-testid="preview">
            {link.preview || '—'}
          </Text>
          {station.practised.includes(ad.network) && ad.landingPage && (
            <Button marginTop="10px" onClick={() => void putOnPractice([ad])}>
              Put it on the practice {profile.name}
            </Button>
          )}
        </Box>
        <Box flex="1 1 44%" minWidth="0">
          <Findings
            findings={findings}
            profile={profile}
            reachOf={changes => reachOf(changes, station.ads)}
            fixOf={fixable}
            fix={fix}
          />
        </Box>
      </Flex>
    </>
  )
}
