'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { NetworkSignal, TestedResult } from '@/core/signals/liveTest'
import type { DescribedTest, TestedRelay } from '@/server/signals/liveTest'
import { type Formats, UNKNOWN, useFormats } from '../format'
import { TextField } from '../parts/Fields'
import { Fold } from '../parts/Fold'
import { Note, Page } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useSending } from '../parts/useSending'
import { useServer } from '../parts/useServer'
import { useNetworkName } from '../shell/NetworkNames'
import { pageFindingWords, relayWords } from './ruleWords'

export interface LiveTestActions {
  begin: (address: string) => Promise<string | null>
  end: () => Promise<void>
}
type SeenPage = DescribedTest['pages'][number]

const LOOK_EVERY_MS = 800

/** A live test: our own visit to the site in another tab, watched page by page as it happens. */
export function LiveTestScreen({
  given,
  site,
  actions,
}: {
  given: DescribedTest | null
  site: string
  actions: LiveTestActions
}) {
  const formats = useFormats()
  const { instant, between } = formats
  const networkName = useNetworkName()
  const [address, setAddress] = useState(site)
  const [problem, setProblem] = useState('')
  const [busy, send] = useSending()
  const { answer: test = given, again: look } = useServer<DescribedTest | null>('/api/live-test', {
    fallbackData: given,
    refreshInterval: latest => (latest?.running ? LOOK_EVERY_MS : 0),
  })
  const running = test?.running ?? false
  const begin = () =>
    send(async () => {
      setProblem((await actions.begin(address)) ?? '')
      await look()
    })
  const end = () =>
    send(async () => {
      await actions.end()
      await look()
    })
  return (
    <Page
      at="/signals/live-test"
      live
      says={
        test
          ? summary(test, formats)
          : 'Visit your site as a shopper would, and see here what each page tells whom, as it happens. Nothing of it counts.'
      }
      actions={
        <>
          {running && test ? (
            <>
              <Button asChild>
                <a href={test.open} target="_blank" rel="noreferrer">
                  Open the page in another tab
                </a>
              </Button>
              <Button disabled={busy} onClick={end}>
                End the test
              </Button>
              <Text color="quiet">
                Begun {instant(test.startedAt)}. The browser in which it is opened is watched until the test
                ends.
              </Text>
            </>
          ) : (
            <>
              <TextField
                unseen
                type="url"
                width="420px"
                label="Page on which the visit begins"
                value={address}
                change={setAddress}
                enter={begin}
              />
              <Button disabled={busy} onClick={begin}>
                {test ? 'Begin another test' : 'Begin a test'}
              </Button>
            </>
          )}
          {problem && <Text color="alarm">{problem}</Text>}
        </>
      }
    >
      {test?.clicks.map(click => (
        <Text key={click.at} fontSize="13px" mt="2">
          {between(Math.max(0, click.at - test.startedAt))} · a click on {networkName(click.network)}, code{' '}
          {click.code}: passed on, and marked as a test.
        </Text>
      ))}
      {test?.pages.toReversed().map(page => (
        <PageSeen key={page.view} page={page} test={test} />
      ))}
      {running && test?.pages.length === 0 && (
        <Note>
          Waiting for the first page. If it is open and nothing appears here, the tag is not on it: look at it
          in Page check.
        </Note>
      )}
    </Page>
  )
}

/** What the visit has shown so far, in a sentence. */
function summary({ pages, running }: DescribedTest, { count }: Formats): string {
  const results = pages.flatMap(p => p.results)
  const wrong = pages.reduce(
    (sum, p) =>
      sum +
      p.missing.length +
      p.findings.length +
      p.results.flatMap(r => r.networks).filter(n => stateWords[n.state].bad).length,
    0,
  )
  const again = results.filter(r => r.again).length
  const said = [
    `${count(pages.length)} ${pages.length === 1 ? 'page' : 'pages'}`,
    `${count(results.length)} ${results.length === 1 ? 'result' : 'results'} told${again > 0 ? `, ${count(again)} of them again: ${again === 1 ? 'it counts' : 'they count'} once` : ''}`,
  ]
  return `${running ? 'The test runs' : 'The last test has ended'}: ${said.join(', ')}; ${
    wrong === 0 ? rightWords(pages) : `${count(wrong)} ${wrong === 1 ? 'thing is' : 'things are'} wrong`
  }.`
}

/** That nothing is wrong can be said only of pages that were watched as long as a check must. */
function rightWords(pages: readonly SeenPage[]): string {
  if (pages.length === 0) return 'nothing has been checked'
  return pages.every(p => p.rested)
    ? 'nothing is wrong'
    : 'nothing is wrong so far, and the last page is still watched'
}

function PageSeen({ page, test }: { page: SeenPage; test: DescribedTest }) {
  const { between } = useFormats()
  const networkName = useNetworkName()
  const name = (result: string) => test.names[result] ?? result
  const url = URL.canParse(page.address) ? new URL(page.address) : null
  url?.searchParams.delete('aq_test')
  const networks = [...new Set(page.results.flatMap(r => r.networks.map(n => n.network)))]
  return (
    <Box as="section" aria-label={page.title} mt="4" borderTopWidth="1px" borderColor="hairline" pt="2">
      <Flex gap="3" align="baseline">
        <Text fontSize="12px" color="quiet" width="52px" flexShrink={0}>
          {between(Math.max(0, page.opened - test.startedAt))}
        </Text>
        <Text as="h2" fontSize="15px" fontWeight="650">
          {page.title}
        </Text>
        <Text fontFamily="mono" fontSize="12px" color="quiet" wordBreak="break-all">
          {url ? url.pathname + url.search : page.address}
        </Text>
      </Flex>
      <Box pl="64px" fontSize="13px">
        {page.results.length > 0 && (
          <DataTable
            label="What was told here"
            columns={[
              {
                id: 'ours',
                heading: 'our tag told',
                words: true,
                value: r => name(r.result),
                cell: r => <Told result={r} name={name(r.result)} />,
              },
              ...networks.map(
                (network): Column<TestedResult> => ({
                  id: network,
                  heading: networkName(network),
                  words: true,
                  wraps: true,
                  value: r => r.networks.find(n => n.network === network)?.state ?? null,
                  cell: r => {
                    const signal = r.networks.find(n => n.network === network)
                    const relay = page.relays.find(s => s.network === network && s.event_id === r.event_id)
                    return (
                      <>
                        {signal ? <Heard signal={signal} /> : UNKNOWN}
                        {relay && <Relayed relay={relay} />}
                      </>
                    )
                  },
                }),
              ),
            ]}
            rows={page.results}
            rowId={r => r.id}
          />
        )}
        {page.missing.map(result => (
          <Text key={result} color="alarm">
            {name(result)} was expected on this page and was not told.
          </Text>
        ))}
        {page.findings.map(finding => (
          <Text key={`${finding.code} ${finding.network} ${finding.event}`} color="alarm">
            {networkName(finding.network)}
            {finding.event ? `, ${finding.event}` : ''}: {pageFindingWords[finding.code]}
            {finding.seen ? ` (${finding.seen.slice(0, 120)})` : ''}{' '}
            <Text as="span" color="quiet">
              {finding.code}
            </Text>
          </Text>
        ))}
        {page.errors.map((error, i) => (
          <Text key={i} color="alarm">
            A script of the page failed: {error.said}
          </Text>
        ))}
        {page.waiting.length > 0 && (
          <Text color="quiet">Waits for the visitor: {page.waiting.map(name).join(', ')}.</Text>
        )}
        {page.results.length + page.missing.length + page.findings.length + page.waiting.length === 0 && (
          <Text color="quiet">{page.rested ? 'Nothing to tell here, and nothing was.' : 'Looking …'}</Text>
        )}
      </Box>
    </Box>
  )
}

function Told({ result, name }: { result: TestedResult; name: string }) {
  return (
    <>
      <Text fontWeight="650" color="shop">
        {name}
        {result.value && ` · ${result.value} ${result.currency ?? ''}`}
      </Text>
      <Text fontFamily="mono" fontSize="12px">
        {result.event_id}
      </Text>
      {result.again && <Text color="quiet">told before: counts once</Text>}
    </>
  )
}

const stateWords: Record<NetworkSignal['state'], { word: string; bad: boolean; more: string }> = {
  sent: { word: 'sent', bad: false, more: '' },
  called: { word: 'called', bad: false, more: 'Its code has run; its request could not be seen.' },
  held_back: {
    word: 'held back',
    bad: false,
    more: 'Its code has no place for a test mark, so it was not run.',
  },
  not_loaded: { word: 'not loaded', bad: true, more: 'Its script could not be fetched.' },
  not_run: {
    word: 'did not run',
    bad: true,
    more: 'The page’s policy forbids its code, or the code has a slip. Give our tag the page’s nonce, and allow the Trusted Types policy “aequant”.',
  },
  missing: { word: 'missing', bad: true, more: 'It should have heard of this, and nothing was sent.' },
  awaited: { word: 'awaited …', bad: false, more: '' },
}

const narrow = { maxWidth: '210px', whiteSpace: 'normal', mt: '0', fontSize: 'inherit' }

/** What the browser sent one network: opened, every parameter of the request. */
function Heard({ signal }: { signal: NetworkSignal }) {
  const { word, bad, more } = stateWords[signal.state]
  const parameters = signal.request ? [...new URL(signal.request).searchParams] : []
  return (
    <Fold
      {...narrow}
      hint={more}
      title={
        <>
          <Text as="span" color={bad ? 'alarm' : 'ink'}>
            {word}
          </Text>{' '}
          as {signal.slot}
        </>
      }
    >
      <Text color="quiet">
        {signal.placedBy === 'tag' ? 'Placed by our tag.' : 'Placed on the site.'} {more}
      </Text>
      {parameters.map(([key, value]) => (
        <Text key={key} fontFamily="mono" fontSize="11px" wordBreak="break-all">
          {key} = {value || '—'}
        </Text>
      ))}
    </Fold>
  )
}

function Relayed({ relay }: { relay: TestedRelay }) {
  const last = relay.tries.at(-1)
  return (
    <Fold
      {...narrow}
      title={
        <Text as="span" color={relay.state === 'refused' ? 'alarm' : 'ink'}>
          server: {relayWords[relay.state]}
          {last && `, ${last.status ?? 'no answer'}`}
        </Text>
      }
    >
      {relay.tries.map(one => (
        <Text key={one.at} fontFamily="mono" fontSize="11px" wordBreak="break-all">
          {one.status ?? 'no answer'} {one.said}
        </Text>
      ))}
      {!last && <Text color="quiet">Not sent yet.</Text>}
    </Fold>
  )
}
