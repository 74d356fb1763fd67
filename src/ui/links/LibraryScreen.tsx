'use client'
import { Button } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useEffect, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { Figure as FigureName } from '@/core/weigh/openings'
import type { LibraryLink } from '@/server/links/library'
import { FigureLink } from '../evidence/PanelContext'
import { UNKNOWN, useFormats } from '../format'
import { CheckField } from '../parts/CheckField'
import { Note, Page } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { Mono } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import type { AskedAd, LibraryActions } from './LibraryForm'

const LibraryForm = dynamic(() => import('./LibraryForm').then(({ LibraryForm }) => LibraryForm), {
  ssr: false,
})

const Figure = ({ line, ...shown }: { line: LibraryLink; figure: FigureName; shown: string }) => (
  <FigureLink {...shown} scope={{ network: line.link.network, ad: line.link.ad.id }} of={line.link.title} />
)

/** Library: every saved link with its clicks, its results and what one cost. */
export function LibraryScreen({
  links,
  elsewhere,
  period,
  origin,
  hosts,
  opened,
  asked,
  actions,
}: {
  links: LibraryLink[]
  /** how many more there are outside the chosen network */
  elsewhere: number
  period: { from: string; to: string }
  origin: string
  hosts: readonly string[]
  /** the code of the link that the address asks for */
  opened: string | null
  /** an ad whose link is to be saved */
  asked: AskedAd | null
  actions: LibraryActions
}) {
  const { count, tenths, money, day, currency } = useFormats()
  const networkName = useNetworkName()
  const [archived, setArchived] = useState(false)
  const saved = asked && links.find(l => l.link.network === asked.network && l.link.ad.id === asked.ad.id)
  const [open, setOpen] = useState<string | null>(asked ? (saved?.code ?? '') : opened)
  /** the codes that there were when a new link was saved, until it is there; and the one that was saved last */
  const [before, setBefore] = useState<ReadonlySet<string> | null>(null)
  const [fresh, setFresh] = useState<string | null>(null)
  useEffect(() => {
    const newest = before && links.find(l => !before.has(l.code))
    if (!newest) return
    setBefore(null)
    setFresh(newest.code)
    setOpen(newest.code)
  }, [links, before])
  const shown = links.filter(({ link }) => link.archived === archived)
  useHotkeys('n', event => {
    event.preventDefault()
    setOpen('')
  })
  const figure = (
    id: FigureName,
    heading: string,
    value: (l: LibraryLink) => number | null,
    text: (n: number | null) => string,
  ): Column<LibraryLink> => ({
    id,
    heading,
    ...(id === 'spend' || id === 'cost' ? { as: 'amount' } : {}),
    value,
    cell: l => <Figure line={l} figure={id} shown={text(value(l))} />,
  })
  const columns: Column<LibraryLink>[] = [
    {
      id: 'link',
      words: true,
      wraps: true,
      width: 260,
      value: l => l.link.title,
      cell: l => (
        <Button variant="plain" fontWeight="650" color="ink" onClick={() => setOpen(l.code)}>
          {l.link.title}
        </Button>
      ),
    },
    { id: 'for', words: true, value: l => l.link.made_for },
    { id: 'code', words: true, value: l => l.code, cell: l => <Mono>{l.code}</Mono> },
    figure(
      'clicks_seen',
      'clicks',
      l => l.clicks,
      n => count(n ?? 0),
    ),
    figure(
      'estimated',
      'est. orders',
      l => l.orders,
      n => (n === null ? UNKNOWN : tenths(n)),
    ),
    figure(
      'spend',
      `cost, ${currency}`,
      l => l.spend,
      n => money(n),
    ),
    figure(
      'cost',
      `one order cost, ${currency}`,
      l => l.cost,
      n => money(n),
    ),
  ]
  const kept = links.filter(l => !l.link.archived)
  const clicks = kept.reduce((sum, l) => sum + l.clicks, 0)
  const chosen = links.find(l => l.code === open) ?? null
  const missing = opened !== null && open === opened && !chosen ? opened : null
  const put = links.length - kept.length
  return (
    <Page
      at="/links/library"
      says={
        links.length === 0 && elsewhere > 0
          ? `No saved link is for this network; ${count(elsewhere)} ${elsewhere === 1 ? 'is' : 'are'} for others.`
          : links.length === 0
            ? 'No link is saved yet. A newsletter, a poster, a banner for a fixed price: each gets a short code, its clicks, its results and its cost.'
            : `${count(kept.length)} saved ${kept.length === 1 ? 'link' : 'links'} brought ${count(clicks)} ${clicks === 1 ? 'click' : 'clicks'} from ${day(period.from)} to ${day(period.to)}.`
      }
      actions={
        <>
          <Button onClick={() => setOpen('')}>
            New link <kbd>n</kbd>
          </Button>
          <CheckField label={`archived (${put})`} value={archived} change={setArchived} />
        </>
      }
      beside={
        open !== null &&
        missing === null && (
          <LibraryForm
            key={`${open} ${chosen?.history[0]?.at ?? 0}`}
            line={chosen}
            asked={asked}
            origin={origin}
            hosts={hosts}
            fresh={chosen !== null && chosen.code === fresh}
            actions={actions}
            saved={() => setBefore(new Set(links.map(l => l.code)))}
            // One that was being kept does not close another that was opened meanwhile.
            close={() => setOpen(now => (now === open ? null : now))}
          />
        )
      }
    >
      {missing !== null && <Note alarm>There is no saved link with the code “{missing}”.</Note>}
      {links.length > 0 && (
        <DataTable
          label="Saved links"
          name="library"
          columns={columns}
          rows={shown}
          rowId={l => l.code}
          foundBy={({ link }) =>
            `${link.note} ${link.destination} ${networkName(link.network)} ${link.former_codes.join(' ')}`
          }
          filterLabel="Search the library"
          tools
          enter={l => setOpen(l.code)}
          chosen={open}
          empty="No such link."
          main
        />
      )}
    </Page>
  )
}
