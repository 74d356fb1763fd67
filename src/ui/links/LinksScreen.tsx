'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useRouter, useSearchParams } from 'next/navigation'
import { useCallback, useDeferredValue, useMemo, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { scopeOf } from '@/core/links/change'
import { hostsOf } from '@/core/links/hops'
import { type PlanLevel, planLevels } from '@/core/links/profile'
import { type AdState, adStates } from '@/core/links/survey'
import type { NewAd } from '@/server/links/changes'
import { useFormats } from '../format'
import { PartNav } from '../parts/PartNav'
import { isUndoOffered } from '../parts/undo'
import { NothingYet } from '../shell/NothingYet'
import { AdLinkView, type Aside, linkOf } from './AdLinkView'
import { AdTree } from './AdTree'
import { stateWords } from './linkWords'
import { MetOthers } from './MetOthers'
import type { LinkStation, StationAd } from './station'
import { adKey } from './treeLines'
import { useStation } from './useStation'

const NewAdPanel = dynamic(() => import('./NewAdPanel').then(m => m.NewAdPanel), { ssr: false })
const PastePanel = dynamic(() => import('./PastePanel').then(m => m.PastePanel), { ssr: false })
const TryPanel = dynamic(() => import('./TryPanel').then(m => m.TryPanel), { ssr: false })
const BulkPanel = dynamic(() => import('./BulkPanel').then(m => m.BulkPanel), { ssr: false })

export interface LinkActions {
  addAd: (ad: NewAd) => Promise<string | null>
  putOnPractice: (network: string, adIds: string[]) => Promise<boolean>
  listHosts: (hosts: string[]) => Promise<string | null>
}

/** What the tree is narrowed to besides its filter. */
type Kept = AdState | 'error' | 'arrives_wrong'
const keptWords: Record<Kept, string> = {
  ...stateWords,
  error: 'would lose clicks',
  arrives_wrong: 'values arrive wrong',
}
const arrivesWrong = ({ arrivals }: StationAd) =>
  arrivals !== null && arrivals.unresolved.length + arrivals.empty.length + arrivals.unknown.length > 0
const keeps = (kept: Kept | null) => (ad: StationAd) =>
  kept === null ||
  (kept === 'error' ? ad.worst === 'error' : kept === 'arrives_wrong' ? arrivesWrong(ad) : ad.state === kept)

const verbs: Record<AdState, [one: string, more: string]> = {
  tagged: ['is tagged', 'are tagged'],
  differs: ['differs from the plan', 'differ from the plan'],
  untagged: ['is untagged', 'are untagged'],
}
const verbOf = (state: AdState, number: number): string => verbs[state][number === 1 ? 0 : 1]

/** Links: the campaign tree, and the chosen ad's plan and link, or what is done to all that are marked. */
export function LinksScreen({ network, actions }: { network: string | null; actions: LinkActions }) {
  const work = useStation()
  const { station, problem, said, say, saving, steps } = work
  const [adding, setAdding] = useState(false)
  if (!station)
    return (
      <Box px="5" pt="4" role="status">
        <PartNav here="/links" />
        <Text as="h1" fontSize="19px" color={problem ? 'alarm' : 'quiet'}>
          {problem ?? 'Fetching the ads …'}
        </Text>
        {problem && <Button onClick={() => void work.load()}>Try again</Button>}
      </Box>
    )
  if (station.ads.length === 0 && !adding)
    return (
      <>
        <NothingYet station="Links" />
        <Box px="5">
          <Button onClick={() => setAdding(true)}>Or name the first ad here</Button>
        </Box>
      </>
    )
  return (
    <Loaded
      station={station}
      network={network}
      actions={actions}
      work={work}
      opened={adding ? 'new' : null}
      status={saving ? 'saving …' : said.text}
      bad={said.bad}
      say={say}
      steps={steps}
    />
  )
}

function Loaded({
  station,
  network,
  actions,
  work,
  opened,
  status,
  bad,
  say,
  steps,
}: {
  station: LinkStation
  network: string | null
  actions: LinkActions
  work: ReturnType<typeof useStation>
  opened: Aside | null
  status: string
  bad: boolean
  say: (text: string, bad?: boolean) => void
  steps: number
}) {
  const { count } = useFormats()
  const router = useRouter()
  const address = useSearchParams()
  const [filter, setFilter] = useState('')
  const [kept, setKept] = useState<Kept | null>(null)
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set())
  const [aside, setAside] = useState<Aside | null>(opened)
  const wanted = useDeferredValue(filter)

  const inScope = useMemo(
    () => (network ? station.ads.filter(ad => ad.network === network) : station.ads),
    [station.ads, network],
  )
  const nameOf = useCallback((key: string) => station.names[key] ?? '', [station.names])
  const shown = useMemo(() => {
    const text = wanted.trim().toLowerCase()
    const narrowed = inScope.filter(keeps(kept))
    if (!text) return narrowed
    return narrowed.filter(ad =>
      `${ad.name} ${ad.id} ${nameOf(`${ad.network}/campaign/${ad.campaignId}`)} ${nameOf(`${ad.network}/ad_set/${ad.adSetId}`)} ${ad.network}`
        .toLowerCase()
        .includes(text),
    )
  }, [inScope, kept, wanted, nameOf])
  const counts = useMemo(() => {
    const of = (kept: Kept) => inScope.filter(keeps(kept)).length
    return {
      tagged: of('tagged'),
      differs: of('differs'),
      untagged: of('untagged'),
      error: of('error'),
      arrives_wrong: of('arrives_wrong'),
    }
  }, [inScope])

  const asked = address.get('ad')
  const ad = station.ads.find(a => adKey(a) === asked) ?? shown[0] ?? null
  const chosen = ad && adKey(ad)
  const [askedKey, askedLevel] = [address.get('parameter'), address.get('level')]
  const focused = useMemo(() => {
    const level = planLevels.find(l => l === askedLevel)
    return askedKey && level && asked === chosen ? { key: askedKey, level } : null
  }, [askedKey, askedLevel, asked, chosen])
  const choose = (next: string) => {
    const query = new URLSearchParams(address)
    query.set('ad', next)
    query.delete('parameter')
    query.delete('level')
    // The screen has all it shows: no page is asked for.
    window.history.replaceState(null, '', `/links?${query}`)
  }
  const mark = (ads: readonly StationAd[]) => {
    const next = new Set(marked)
    const all = ads.every(a => next.has(adKey(a)))
    for (const a of ads) {
      if (all) next.delete(adKey(a))
      else next.add(adKey(a))
    }
    setMarked(next)
  }
  const markedAds = useMemo(() => station.ads.filter(a => marked.has(adKey(a))), [station.ads, marked])
  const putOnPractice = async (ads: readonly StationAd[]) => {
    await work.flush()
    const of = ads[0]?.network ?? ''
    const name = station.profiles.find(p => p.id === of)?.name ?? of
    const taken = await actions
      .putOnPractice(
        of,
        ads.map(a => a.id),
      )
      .catch(() => false)
    say(
      taken
        ? `The practice ${name} has ${ads.length === 1 ? 'it' : 'them'}.`
        : 'The practice ground does not answer.',
      !taken,
    )
    if (taken) await work.load()
  }
  useHotkeys(
    'u',
    event => {
      if (!event.defaultPrevented && !isUndoOffered()) work.undo()
    },
    [work.undo],
  )
  useHotkeys('n', event => {
    event.preventDefault()
    setAside('new')
  })
  useHotkeys('escape', () => setMarked(new Set()), { enabled: marked.size > 0 })
  const profile = station.profiles.find(p => p.id === ad?.network)
  const figure = (which: Kept, words: string) => (
    <Button
      variant="plain"
      aria-pressed={kept === which}
      textUnderlineOffset="3px"
      fontWeight="650"
      onClick={() => setKept(kept === which ? null : which)}
    >
      {count(counts[which])} {words}
    </Button>
  )
  return (
    <Flex height="100%" position="relative">
      <AdTree
        ads={shown}
        nameOf={nameOf}
        profiles={station.profiles}
        chosen={chosen}
        choose={next => choose(adKey(next))}
        marked={marked}
        mark={mark}
        filter={filter}
        setFilter={setFilter}
        kept={kept && keptWords[kept]}
        dropKept={() => setKept(null)}
      >
        <Button variant="plain" marginLeft="auto" onClick={() => setAside('new')}>
          new ad
        </Button>
      </AdTree>
      <Box px="5" py="4" flex="1" minWidth="0" overflowY="auto" height="100%">
        <PartNav here="/links" />
        <Text as="h1" fontSize="19px" lineHeight="1.35">
          Of {count(inScope.length)} {inScope.length === 1 ? 'ad' : 'ads'},{' '}
          {inScope[0]?.state === null
            ? 'and what each click will tell is being worked out …'
            : adStates.map((state, i) => (
                <span key={state}>
                  {i > 0 && (i === adStates.length - 1 ? ' and ' : ', ')}
                  {figure(state, verbOf(state, counts[state]))}
                  {i === adStates.length - 1 && '. '}
                </span>
              ))}
          {counts.error > 0 && <>{figure('error', 'would lose clicks')}. </>}
          {counts.arrives_wrong > 0 && (
            <>Values arrive wrong at {figure('arrives_wrong', counts.arrives_wrong === 1 ? 'ad' : 'ads')}.</>
          )}
        </Text>
        <MetOthers met={work.met} station={station} read={work.readMet} />
        <Flex minHeight="22px" mt="1" mb="2" gap="3" fontSize="12px" align="center">
          {steps > 0 && (
            <Button variant="plain" onClick={work.undo}>
              Undo <kbd>u</kbd>
            </Button>
          )}
          <Text color={bad ? 'alarm' : 'quiet'} aria-live="polite">
            {status || (asked && chosen !== asked ? `There is no ad ${asked}; the first is shown.` : '')}
          </Text>
        </Flex>
        {markedAds.length > 0 ? (
          <BulkPanel
            ads={markedAds}
            station={station}
            work={work}
            done={() => setMarked(new Set())}
            putOnPractice={putOnPractice}
          />
        ) : ad && profile ? (
          <AdLinkView
            key={chosen}
            ad={ad}
            profile={profile}
            station={station}
            work={work}
            focused={focused}
            aside={setAside}
            putOnPractice={putOnPractice}
          />
        ) : (
          <Text color="quiet">No ad is left by the filter.</Text>
        )}
      </Box>
      {aside === 'new' && (
        <NewAdPanel
          profiles={station.profiles}
          rules={station.namingRules}
          names={station.names}
          network={network ?? ad?.network ?? station.profiles[0]?.id ?? ''}
          save={actions.addAd}
          added={key => {
            setAside(null)
            choose(key)
            void work.load()
            router.refresh()
          }}
          close={() => setAside(null)}
        />
      )}
      {aside === 'paste' && ad && (
        <PastePanel
          key={chosen}
          ad={ad}
          profiles={station.profiles}
          own={work.own}
          scope={(level: PlanLevel) => scopeOf(ad, level)}
          apply={changes => work.apply(changes)}
          close={() => setAside(null)}
        />
      )}
      {aside === 'try' && ad && profile && (
        <TryPanel
          address={linkOf(ad, station, work.own, profile).preview}
          // One alone would make findings of the others.
          hosts={station.hosts.length > 0 ? [] : hostsOf(station.ads.map(a => a.landingPage ?? ''))}
          list={async hosts => {
            const problem = await actions.listHosts(hosts)
            if (problem === null) await work.load()
            return problem
          }}
          close={() => setAside(null)}
        />
      )}
    </Flex>
  )
}
