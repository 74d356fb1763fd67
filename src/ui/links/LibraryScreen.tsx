'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useDeferredValue, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import type { Figure as FigureName } from '@/core/weigh/openings'
import type { LibraryLink } from '@/server/links/library'
import { FigureLink } from '../evidence/PanelContext'
import { count, money, tenths, UNKNOWN } from '../format'
import { CheckField } from '../parts/Fields'
import { PartNav } from '../parts/PartNav'
import { useNetworkName } from '../shell/NetworkNames'
import { type AskedAd, type LibraryActions, LibraryForm } from './LibraryForm'

const Figure = ({ line, ...shown }: { line: LibraryLink; figure: FigureName; shown: string }) => (
  <FigureLink {...shown} scope={{ network: line.link.network, ad: line.link.ad.id }} of={line.link.title} />
)

/** Library: every saved link with its clicks, its results and what one cost. */
export function LibraryScreen({
  links,
  elsewhere,
  period,
  currency,
  zone,
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
  currency: string
  zone: string
  origin: string
  hosts: readonly string[]
  /** the code of the link that the address asks for */
  opened: string | null
  /** an ad whose link is to be saved */
  asked: AskedAd | null
  actions: LibraryActions
}) {
  const networkName = useNetworkName()
  const [search, setSearch] = useState('')
  const [archived, setArchived] = useState(false)
  const saved = asked && links.find(l => l.link.network === asked.network && l.link.ad.id === asked.ad.id)
  const [open, setOpen] = useState<string | null>(asked ? (saved?.code ?? '') : opened)
  const field = useRef<HTMLInputElement>(null)
  const wanted = useDeferredValue(search).trim().toLowerCase()
  const shown = links.filter(
    ({ code, link }) =>
      link.archived === archived &&
      `${code} ${link.title} ${link.note} ${link.made_for} ${link.destination} ${networkName(link.network)} ${link.former_codes.join(' ')}`
        .toLowerCase()
        .includes(wanted),
  )
  const [at, setAt] = useState(0)
  useHotkeys('j', () => setAt(Math.min(shown.length - 1, at + 1)), [at, shown.length])
  useHotkeys('k', () => setAt(Math.max(0, at - 1)), [at])
  useHotkeys('enter', () => shown[at] && setOpen(shown[at].code), [at, shown])
  useHotkeys('n', event => {
    event.preventDefault()
    setOpen('')
  })
  useHotkeys('slash', event => {
    event.preventDefault()
    field.current?.focus()
  })
  const kept = links.filter(l => !l.link.archived)
  const clicks = kept.reduce((sum, l) => sum + l.clicks, 0)
  const chosen = links.find(l => l.code === open) ?? null
  const missing = opened !== null && open === opened && !chosen ? opened : null
  const put = links.length - kept.length
  return (
    <Flex height="100%">
      <Box px="5" pt="4" pb="8" flex="1" minWidth="0" overflowY="auto">
        <PartNav here="/links/library" />
        {missing !== null && (
          <Text fontSize="13px" role="alert" color="alarm">
            There is no saved link with the code “{missing}”.
          </Text>
        )}
        <Text as="h1" fontSize="19px">
          {links.length === 0 && elsewhere > 0
            ? `No saved link is for this network; ${count(elsewhere)} ${elsewhere === 1 ? 'is' : 'are'} for others.`
            : links.length === 0
              ? 'No link is saved yet. A newsletter, a poster, a banner for a fixed price: each gets a short code, its clicks, its results and its cost.'
              : `${count(kept.length)} saved ${kept.length === 1 ? 'link' : 'links'} brought ${count(clicks)} ${clicks === 1 ? 'click' : 'clicks'} from ${period.from} to ${period.to}.`}
        </Text>
        <Flex gap="2" mt="3" fontSize="13px" align="center">
          <Input
            ref={field}
            style={{ width: 280 }}
            aria-label="Search the library"
            placeholder="Search title, note, code, destination  /"
            value={search}
            onChange={e => setSearch(e.target.value)}
          />
          <Button onClick={() => setOpen('')}>
            New link <kbd>n</kbd>
          </Button>
          <CheckField label={`archived (${put})`} value={archived} change={setArchived} />
        </Flex>
        {shown.length > 0 && (
          <Box as="table" className="ledger" mt="3">
            <thead>
              <tr>
                <th>link</th>
                <th style={{ textAlign: 'left' }}>for</th>
                <th style={{ textAlign: 'left' }}>code</th>
                <th>clicks</th>
                <th>est. orders</th>
                <th>cost, {currency}</th>
                <th>one order cost, {currency}</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((line, i) => (
                <tr
                  key={line.code}
                  style={{ background: i === at ? 'var(--chakra-colors-mark)' : undefined }}
                >
                  <td style={{ maxWidth: 260, overflow: 'hidden', textOverflow: 'ellipsis' }}>
                    <Button
                      variant="plain"
                      title={line.link.title}
                      style={{ fontWeight: 650 }}
                      onClick={() => {
                        setAt(i)
                        setOpen(line.code)
                      }}
                    >
                      {line.link.title}
                    </Button>
                  </td>
                  <td style={{ textAlign: 'left' }}>{line.link.made_for}</td>
                  <td style={{ textAlign: 'left', fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}>
                    {line.code}
                  </td>
                  <td>
                    <Figure line={line} figure="clicks_seen" shown={count(line.clicks)} />
                  </td>
                  <td>
                    <Figure
                      line={line}
                      figure="estimated"
                      shown={line.orders === null ? UNKNOWN : tenths(line.orders)}
                    />
                  </td>
                  <td>
                    <Figure line={line} figure="spend" shown={money(line.spend, currency)} />
                  </td>
                  <td>
                    <Figure line={line} figure="cost" shown={money(line.cost, currency)} />
                  </td>
                </tr>
              ))}
            </tbody>
          </Box>
        )}
        {links.length > 0 && shown.length === 0 && (
          <Text mt="3" color="quiet" fontSize="13px">
            No such link.
          </Text>
        )}
      </Box>
      {open !== null && missing === null && (
        <LibraryForm
          key={`${open} ${chosen?.history[0]?.at ?? 0}`}
          line={chosen}
          asked={asked}
          currency={currency}
          zone={zone}
          origin={origin}
          hosts={hosts}
          actions={actions}
          // One that was being kept does not close another that was opened meanwhile.
          close={() => setOpen(now => (now === open ? null : now))}
        />
      )}
    </Flex>
  )
}
