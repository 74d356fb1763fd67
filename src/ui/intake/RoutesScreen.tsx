'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { useFormats } from '../format'
import { Code } from '../parts/Code'
import { TextField } from '../parts/Fields'
import { Note, Page, Said, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { undoable } from '../parts/undo'
import { useSending } from '../parts/useSending'
import { Mono } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import type { KeepRoute, RouteDraft } from './RouteForm'
import { RoutePaths } from './RoutePaths'

const RouteForm = dynamic(() => import('./RouteForm').then(m => m.RouteForm), { ssr: false })

/** The hops of a click on each code of the tracking domain: landing pages and offers, shared out by weight. */
export function RoutesScreen({
  routes,
  networks,
  origin,
  broken,
  fallback,
  keep,
  keepFallback,
}: {
  routes: RouteDraft[]
  networks: string[]
  origin: string
  /** what is wrong with routes that lead nowhere, by code */
  broken: Record<string, string>
  fallback: string
  keep: KeepRoute
  keepFallback: (address: string) => Promise<string | null>
}) {
  const { count } = useFormats()
  const networkName = useNetworkName()
  const [open, setOpen] = useState<string | null>(null)
  const forked = routes.filter(r => r.landings.length > 1 || r.offers.length > 0)
  const split = routes.filter(r => r.landings.length > 1 || r.offers.length > 1).length
  const columns: Column<RouteDraft>[] = [
    {
      id: 'code',
      words: true,
      value: r => r.code,
      cell: r => (
        <Button variant="plain" onClick={() => setOpen(r.code)}>
          <Mono>{r.code}</Mono>
        </Button>
      ),
    },
    { id: 'network', words: true, pick: true, value: r => networkName(r.network) },
    {
      id: 'to',
      heading: 'leads to',
      words: true,
      wraps: true,
      value: r => r.landings.map(l => l.address).join(', '),
    },
    {
      id: 'state',
      words: true,
      value: r => (broken[r.code] ? 'leads nowhere' : r.paused ? 'paused' : 'leads on'),
    },
  ]
  return (
    <Page
      at="/intake/routes"
      says={`${count(routes.length)} ${routes.length === 1 ? 'code leads' : 'codes lead'} clicks on, ${count(split)} of them to several pages or offers by weight. A visitor always takes the same way.`}
      actions={<Button onClick={() => setOpen('')}>Add a code</Button>}
      beside={
        open !== null && (
          <RouteForm
            key={open}
            route={routes.find(r => r.code === open) ?? null}
            networks={networks}
            origin={origin}
            keep={keep}
            close={() => setOpen(null)}
          />
        )
      }
    >
      {routes.flatMap(({ code }) =>
        broken[code]
          ? [
              <Note key={code} alarm>
                {code} leads nowhere until it is mended: {broken[code]}
              </Note>,
            ]
          : [],
      )}
      {forked.map(route => (
        <Box as="section" key={route.code} aria-label={`Ways of ${route.code}`} mt="4">
          <Flex gap="3" align="baseline" mb="1" fontSize="13px">
            <Button variant="plain" fontWeight="650" onClick={() => setOpen(route.code)}>
              <Mono>
                {origin}/c/{route.code}
              </Mono>
            </Button>
            <Text color="quiet">
              {networkName(route.network)}
              {route.paused && ', paused'}
            </Text>
          </Flex>
          <RoutePaths landings={route.landings} offers={route.offers} />
          {route.offers.length > 0 && (
            <Box maxWidth="44rem" mt="1" fontSize="13px">
              <Text color="quiet">Link from the landing page to the offer</Text>
              <Code text={`${origin}/c/${route.code}/next`} />
            </Box>
          )}
        </Box>
      ))}
      <Section title="All codes">
        <DataTable
          main
          label="Codes"
          name="routes"
          columns={columns}
          rows={routes}
          rowId={r => r.code}
          enter={r => setOpen(r.code)}
          chosen={open}
        />
      </Section>
      <Fallback key={fallback} address={fallback} keep={keepFallback} />
    </Page>
  )
}

/** Where clicks on codes go that lead nowhere. */
function Fallback({ address, keep }: { address: string; keep: (address: string) => Promise<string | null> }) {
  const [text, setText] = useState(address)
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, send] = useSending()
  const save = () =>
    send(async () => {
      const wrong = await keep(text.trim())
      setProblem(wrong)
      if (wrong === null) undoable('Unknown and paused codes lead elsewhere now.', () => keep(address))
    })
  return (
    <Section title="Codes that are unknown or paused">
      <Flex gap="2" align="end" maxWidth="44rem" fontSize="13px">
        <TextField
          label="Where unknown or paused codes lead"
          type="url"
          value={text}
          change={setText}
          enter={save}
          placeholder="empty: a plain page says so"
        />
        <Button disabled={busy || text.trim() === address} onClick={save}>
          Keep where they lead
        </Button>
      </Flex>
      <Said alarm>{problem}</Said>
    </Section>
  )
}
