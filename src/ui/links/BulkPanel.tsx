'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { entityKey } from '@/core/links/account'
import { sampleValue } from '@/core/links/assemble'
import type { BulkEdit, LinkChange } from '@/core/links/change'
import { noLongerIdentified, readOtherwise } from '@/core/links/identified'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels, spell } from '@/core/links/profile'
import { markedChanges, reachOf } from '@/core/links/reach'
import type { EntityLevel } from '@/core/links/readLink'
import { reviewOf } from '@/core/links/review'
import { parseTemplate } from '@/core/links/template'
import { ownRequest } from '@/core/shared/ownRequest'
import { useFormats } from '../format'
import { Select } from '../parts/Fields'
import { linkOf, sampleOf } from './AdLinkView'
import { ChangePreview } from './ChangePreview'
import { levelName, reachWords, tokenWords } from './linkWords'
import { ReviewWarning } from './ReviewWarning'
import type { LinkStation, StationAd } from './station'
import { TemplateField } from './TemplateField'
import type { Station } from './useStation'

const doings: Record<BulkEdit['do'], string> = {
  set: 'set a parameter',
  replace: 'replace text in values',
  clear: 'clear a parameter, so that it inherits',
  remove: 'remove a parameter that is inherited',
  lead: 'change where they lead',
}

/** Which values a network cannot supply among those that a change sets. */
function unsupplied(change: LinkChange, profile: NetworkProfile | undefined): string[] {
  if (change.what === 'ad' || !profile) return []
  return Object.entries(change.after)
    .filter(([key, value]) => change.before[key] !== value)
    .flatMap(([, value]) => parseTemplate(value, profile.dialect))
    .flatMap(s =>
      s.kind === 'token' && spell(profile.dialect, s.token) === null ? [tokenWords(s.token, profile)] : [],
    )
}

/** Warns before a change that leaves nothing in the address to identify an ad by. */
function Unidentified({ ads }: { ads: readonly StationAd[] }) {
  const { count } = useFormats()
  const [first] = ads
  return (
    first && (
      <Text role="alert" color="alarm" mt="2">
        After this change nothing in the address identifies {count(ads.length)}{' '}
        {ads.length === 1 ? 'ad' : 'ads'}, such as {first.name}: orders without a click ID will have no ad.
      </Text>
    )
  )
}

/** Warns before a change by which links that are pasted already would be read otherwise. */
function ReadOtherwise({ ads }: { ads: readonly StationAd[] }) {
  const { count } = useFormats()
  const [first] = ads
  return (
    first && (
      <Text role="alert" color="alarm" mt="2">
        Links of {count(ads.length)} {ads.length === 1 ? 'ad' : 'ads'}, such as {first.name}, are already
        pasted at the network and would be read differently: their values do not fit the new plan. Update
        these links at the network in the same hour, or use a new parameter.
      </Text>
    )
  )
}

/** What links are read by, as the station knows it. */
const knownBy = ({ profiles, names, formerNames, ads, keys }: LinkStation) => {
  const nameOfAd = new Map(ads.map(ad => [entityKey(ad.network, 'ad', ad.id), ad.name]))
  return {
    profiles,
    namesOf: (network: string, level: EntityLevel, id: string): string[] => {
      const key = entityKey(network, level, id)
      const name = level === 'ad' ? nameOfAd.get(key) : names[key]
      return [...(formerNames[key] ?? []), ...(name ? [name] : [])]
    },
    usual: { campaign: keys.campaign_key, ad_set: keys.ad_set_key, ad: keys.ad_key },
  }
}

/** One parameter, or where they lead, changed on all marked ads at once: every change is shown before. */
export function BulkPanel({
  ads,
  station,
  work,
  done,
  putOnPractice,
}: {
  ads: readonly StationAd[]
  station: LinkStation
  work: Station
  done: () => void
  putOnPractice: (ads: readonly StationAd[]) => Promise<void>
}) {
  const formats = useFormats()
  const { count } = formats
  const [doing, setDoing] = useState<BulkEdit['do']>('set')
  const [level, setLevel] = useState<PlanLevel>('ad_set')
  const [key, setKey] = useState('')
  const [template, setTemplate] = useState('')
  const [find, setFind] = useState('')
  const [page, setPage] = useState('')
  const profileOf = useMemo(() => new Map(station.profiles.map(p => [p.id, p])), [station.profiles])
  const networks = useMemo(() => [...new Set(ads.map(ad => ad.network))], [ads])
  const profile = profileOf.get(networks[0] ?? '')
  const edit: BulkEdit | null =
    doing === 'lead'
      ? page.trim()
        ? { do: 'lead', to: { landingPage: page.trim(), straight: false } }
        : null
      : doing === 'replace'
        ? find
          ? { do: 'replace', key: key.trim(), find, by: template }
          : null
        : key.trim() === '' || (doing === 'set' && template === '')
          ? null
          : { do: doing, key: key.trim(), template }
  const lacksLevel = networks.flatMap(n => {
    const known = profileOf.get(n)
    return known && !levelsOf(known).includes(level) ? [known] : []
  })
  const able =
    lacksLevel.length === 0 || doing === 'lead'
      ? ads
      : ads.filter(ad => !lacksLevel.some(p => p.id === ad.network))
  const { changes, singly } = edit
    ? markedChanges(edit, able, station.ads, level, work.own)
    : { changes: [], singly: 0 }
  const reach = reachOf(changes, station.ads)
  const lacking = [
    ...new Set(
      changes
        .slice(0, 200)
        .flatMap(c =>
          unsupplied(c, profileOf.get(c.network)).map(t => `${profileOf.get(c.network)?.name} has no ${t}`),
        ),
    ),
  ]
  const apply = () => {
    if (changes.length === 0) return
    work.apply(changes)
    work.say(`${count(changes.length)} changed. Press u to undo all of it.`)
  }
  const addresses = () =>
    ads.flatMap(ad => {
      const own = profileOf.get(ad.network)
      return own ? [linkOf(ad, station, work.own, own).address] : []
    })
  const copyAll = () =>
    navigator.clipboard.writeText(addresses().join('\n')).then(
      () => work.say(`${count(ads.length)} addresses copied.`),
      () => work.say('The browser did not allow copying.', true),
    )
  const download = async () => {
    // The file is made from what is stored.
    await work.flush()
    const answer = await fetch('/api/links/csv', {
      method: 'POST',
      headers: { ...ownRequest, 'content-type': 'application/json' },
      body: JSON.stringify(ads.map(ad => `${ad.network}/${ad.id}`)),
    }).catch(() => null)
    if (!answer?.ok) return work.say('The file could not be made. Try again.', true)
    const file = URL.createObjectURL(await answer.blob())
    const link = Object.assign(document.createElement('a'), { href: file, download: 'links.csv' })
    link.click()
    URL.revokeObjectURL(file)
    work.say(`links.csv holds ${count(ads.length)} ${ads.length === 1 ? 'ad' : 'ads'}.`)
  }
  const practised = networks.length === 1 && station.practised.includes(networks[0]!)
  const first = ads[0]
  return (
    <Box fontSize="13px">
      <Flex justify="space-between" gap="3" align="baseline" mb="2">
        <Text as="h2" fontSize="16px" fontWeight="650">
          {count(ads.length)} {ads.length === 1 ? 'ad is' : 'ads are'} marked
        </Text>
        <Flex gap="2">
          <Button onClick={() => void copyAll()}>Copy all addresses</Button>
          <Button onClick={() => void download()}>CSV for upload</Button>
          {practised && (
            <Button onClick={() => void putOnPractice(ads)}>Put them on the practice {profile?.name}</Button>
          )}
          <Button onClick={done}>
            Unmark all <kbd>Esc</kbd>
          </Button>
        </Flex>
      </Flex>
      <Flex
        as="form"
        gap="2"
        align="center"
        wrap="wrap"
        onSubmit={(event: React.FormEvent) => {
          event.preventDefault()
          apply()
        }}
      >
        <Select
          aria-label="What to do"
          value={doing}
          onChange={e => setDoing(e.target.value as BulkEdit['do'])}
        >
          {Object.entries(doings).map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Select>
        {doing === 'lead' ? (
          <Input
            flex="1"
            aria-label="New landing page"
            placeholder="https://…"
            value={page}
            onChange={e => setPage(e.target.value)}
          />
        ) : (
          <>
            <Input
              width="150px"
              aria-label="Parameter"
              placeholder={doing === 'replace' ? 'every parameter' : 'utm_…'}
              value={key}
              onChange={e => setKey(e.target.value)}
            />
            {doing === 'replace' && (
              <Input
                width="130px"
                aria-label="Text to find"
                placeholder="this text"
                value={find}
                onChange={e => setFind(e.target.value)}
              />
            )}
            {doing === 'replace' && 'by'}
            {doing === 'set' && 'to'}
            {(doing === 'set' || doing === 'replace') && profile && first && (
              <TemplateField
                label="New value"
                template={template}
                profile={profile}
                sample={token => sampleValue(sampleOf(first, station), token)}
                change={setTemplate}
              />
            )}
            <span>at</span>
            <Select
              aria-label="Level of the change"
              value={level}
              onChange={e => setLevel(planLevels.find(l => l === e.target.value) ?? 'ad')}
            >
              {(networks.length === 1 && profile ? levelsOf(profile) : planLevels).map(l => (
                <option key={l} value={l}>
                  {networks.length === 1 && profile ? levelName(profile, l) : l.replace('_', ' ')}
                </option>
              ))}
            </Select>
          </>
        )}
        <Button type="submit" disabled={changes.length === 0}>
          Change {count(reach.ads)} {reach.ads === 1 ? 'ad' : 'ads'}
        </Button>
      </Flex>
      <ReviewWarning review={reviewOf(changes, station.profiles)} take={setLevel} />
      {changes.length > 0 && (
        <Text mt="2">
          {reachWords(reach, networks.length === 1 ? profile : undefined, 'It changes', formats)}
          {singly > 0 &&
            ` ${count(singly)} ${singly === 1 ? 'gets' : 'get'} it at the ad alone, because others that are not marked stand beside ${singly === 1 ? 'it' : 'them'}.`}
        </Text>
      )}
      {able.length < ads.length && (
        <Text mt="2" color="network">
          {lacksLevel.map(p => p.name).join(', ')} has no such level: its {count(ads.length - able.length)}{' '}
          marked ads stay as they are.
        </Text>
      )}
      {lacking.length > 0 && (
        <Text mt="2" color="alarm">
          {lacking.slice(0, 4).join('; ')}: those links would arrive without it.
        </Text>
      )}
      <Unidentified ads={noLongerIdentified(changes, station.ads, work.own)} />
      <ReadOtherwise ads={readOtherwise(changes, station.ads, work.own, knownBy(station))} />
      <ChangePreview changes={changes} station={station} asked={edit !== null} />
    </Box>
  )
}
