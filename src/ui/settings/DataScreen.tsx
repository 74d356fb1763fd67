'use client'
import { Box, Link } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { useFormats } from '../format'
import { FileButton } from '../parts/FileButton'
import { Note, Page, Section } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { type RemovalActions, RemovalPart } from './RemovalPart'

const WorkspaceFilePanel = dynamic(() => import('./WorkspaceFilePanel').then(m => m.WorkspaceFilePanel), {
  ssr: false,
})

const files = [
  ['orders', 'orders', 'what the shop booked'],
  ['clicks', 'clicks', 'ad clicks that were seen'],
  ['delivery', 'deliveries', 'what networks spent and served'],
  ['claims', 'claims, summed', 'by ad and day, where a network tells no more'],
  ['claim-rows', 'claims, one by one', 'where a network lists them'],
  ['events', 'pages and events', 'what the tag told'],
  ['sales', 'partners’ sales', 'as their latest postback has them'],
  ['set-aside', 'what was set aside', 'as it came, with its reason'],
  ['rates', 'exchange rates', 'one a day and pair'],
  ['ads', 'ads', 'by name and ID, with their addresses'],
] as const

/** All that is held: to be taken out, taken in, and removed. */
export function DataScreen({
  period,
  network,
  results,
  keptDays,
  actions,
}: {
  period: { from: string; to: string }
  network: string | null
  results: readonly { id: string; name: string }[]
  keptDays: number
  actions: RemovalActions
}) {
  const { day } = useFormats()
  const networkName = useNetworkName()
  const [file, setFile] = useState<{ name: string; text: string } | null>(null)
  const query = new URLSearchParams({ ...period, ...(network && { network }) })
  const cut = `${day(period.from)} – ${day(period.to)}${network ? `, ${networkName(network)}` : ''}`
  const download = (what: string, words: string, more = '') => (
    <Link href={`/api/export/${what}?${query}${more}`} download textDecoration="underline" color="inherit">
      {words}
    </Link>
  )
  return (
    <Page
      at="/settings/data"
      says="Everything here is yours: take it out as plain files, carry what you have settled into another workspace, or remove it."
      beside={
        file && (
          <WorkspaceFilePanel
            key={file.name + file.text.length}
            name={file.name}
            text={file.text}
            close={() => setFile(null)}
          />
        )
      }
    >
      <Section title="Take it out">
        <Note>
          CSV files of {cut}; choose period and network above. They are the files that Import takes in.
        </Note>
        <Box as="ul" listStyleType="none" mt="2" fontSize="13px">
          {files.map(([kind, name, holds]) => (
            <li key={kind}>
              {download(kind, name)}: {holds}
            </li>
          ))}
          {results.map(({ id, name }) => (
            <li key={id}>
              {download('conversions', `${name}, each with its ad`, `&result=${encodeURIComponent(id)}`)}:
              every one that counts, the ads that brought it with their parts, its evidence and who claims it
            </li>
          ))}
        </Box>
        <Box mt="2" fontSize="13px">
          <Link href="/api/export/all" download textDecoration="underline" color="inherit">
            All of all days, as one archive
          </Link>
          {' · '}
          <Link href="/api/workspace" download textDecoration="underline" color="inherit">
            What you have settled, as JSON
          </Link>
          : plans, rules, results, journeys, networks, names, mappings and settings, without secrets
        </Box>
      </Section>
      <Section title="Take it in">
        <Note>
          Records go in under <WordLink href="/intake/import">Import files</WordLink>, and any file can be
          dropped on any screen. What was settled in another workspace comes as its JSON.
        </Note>
        <Box mt="2">
          <FileButton
            label="What a workspace has settled"
            accept=".json,application/json"
            take={async chosen => setFile({ name: chosen.name, text: await chosen.text() })}
          >
            Choose a workspace’s JSON
          </FileButton>
        </Box>
      </Section>
      <Section title="Remove">
        <RemovalPart period={period} network={network} cut={cut} keptDays={keptDays} actions={actions} />
      </Section>
    </Page>
  )
}
