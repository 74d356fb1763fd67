'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { useActionState } from 'react'
import type { Branch, Offer } from '@/core/intake/routing'
import { count } from '../format'
import { Tick } from '../parts/CheckField'
import { Select } from '../parts/Fields'
import { Page } from '../parts/Page'
import { useNetworkName } from '../shell/NetworkNames'

interface Route {
  code: string
  network: string
  landings: Branch[]
  offers: Offer[]
  paused: boolean
}
type Save = (form: FormData) => Promise<string | null>

/** The hops of a click on each code of the tracking domain: landing pages and offers, shared out by weight. */
export function RoutesScreen({
  routes,
  networks,
  origin,
  broken,
  fallback,
  save,
  saveFallback,
}: {
  routes: Route[]
  networks: string[]
  origin: string
  /** what is wrong with routes that lead nowhere, by code */
  broken: Record<string, string>
  fallback: string
  save: Save
  saveFallback: Save
}) {
  const split = routes.filter(r => r.landings.length > 1 || r.offers.length > 1).length
  return (
    <Page
      at="/intake/routes"
      says={`${count(routes.length)} ${routes.length === 1 ? 'code leads' : 'codes lead'} clicks on, ${count(split)} of them to several pages or offers by weight. A visitor always takes the same way.`}
    >
      {routes.map(route => (
        <Box key={JSON.stringify(route)}>
          {broken[route.code] && (
            <Text color="alarm" fontSize="13px" mt="3" role="alert">
              {route.code} leads nowhere until it is mended: {broken[route.code]}
            </Text>
          )}
          <RouteForm route={route} origin={origin} save={save} />
        </Box>
      ))}
      <NewRoute networks={networks} save={save} />
      <Box as="section" mt="6" fontSize="13px">
        <Text as="h2" fontSize="15px" fontWeight="650">
          Codes that are unknown or paused
        </Text>
        <Submit save={saveFallback} label="Save where they lead">
          <Input
            style={{ width: '100%', marginTop: 6 }}
            name="fallback"
            type="url"
            aria-label="Where unknown or paused codes lead"
            defaultValue={fallback}
            placeholder="empty: a plain page says so"
          />
        </Submit>
      </Box>
    </Page>
  )
}

function Submit({ save, label, children }: { save: Save; label: string; children: React.ReactNode }) {
  const [problem, submit, saving] = useActionState((_: string | null, form: FormData) => save(form), null)
  return (
    <form action={submit}>
      {children}
      {problem && (
        <Text color="alarm" fontSize="13px" mt="2" whiteSpace="pre-wrap">
          {problem}
        </Text>
      )}
      <Button type="submit" disabled={saving} style={{ marginTop: 8 }}>
        {saving ? 'Saving …' : label}
      </Button>
    </form>
  )
}

function RouteForm({ route, origin, save }: { route: Route; origin: string; save: Save }) {
  const networkName = useNetworkName()
  const share = (branches: readonly Branch[], weight: number) => {
    const total = branches.reduce((sum, b) => sum + b.weight, 0)
    return branches.length > 1 ? `${Math.round((weight / total) * 100)} %` : ''
  }
  const keep: Save = form => {
    form.set('code', route.code)
    form.set('network', route.network)
    return save(form)
  }
  // One empty row more than there are: filled in, it adds a branch; emptied, a row removes one.
  const landings = [...route.landings, { address: '', weight: 1 }]
  const offers = [...route.offers, { address: '', weight: 1, click_parameter: '' }]
  return (
    <Box as="section" borderTopWidth="1px" borderColor="hairline" mt="4" pt="3" fontSize="13px">
      <Flex gap="3" align="baseline" mb="2">
        <Text as="h2" fontFamily="mono" fontSize="14px" fontWeight="650">
          {origin}/c/{route.code}
        </Text>
        <Text color="quiet">{networkName(route.network)}</Text>
      </Flex>
      <Submit save={keep} label={`Save ${route.code}`}>
        <Text textAlign="right" pr="56px" color="quiet" fontSize="12px">
          weight
        </Text>
        {landings.map((branch, i) => (
          <BranchRow
            key={`landing ${i}`}
            of={`landing page ${i + 1} of ${route.code}`}
            name="landing"
            head={i === 0 ? 'landing pages' : ''}
            branch={branch}
            share={share(route.landings, branch.weight)}
            placeholder="another landing page"
          />
        ))}
        {offers.map((offer, i) => (
          <BranchRow
            key={`offer ${i}`}
            of={`offer ${i + 1} of ${route.code}`}
            name="offer"
            head={i === 0 ? 'then offers' : ''}
            branch={offer}
            share={share(route.offers, offer.weight)}
            placeholder={`an offer that ${origin}/c/${route.code}/next leads to`}
          >
            <Input
              style={{ width: 110 }}
              name="offer_parameter"
              aria-label={`Click ID parameter of offer ${i + 1} of ${route.code}`}
              defaultValue={offer.click_parameter}
              placeholder="click ID as"
            />
          </BranchRow>
        ))}
        <Tick name="paused" ticked={route.paused}>
          paused: clicks are told so
        </Tick>
      </Submit>
    </Box>
  )
}

/** One landing page or offer of a route, with its weight. */
function BranchRow({
  of,
  name,
  head,
  branch,
  share,
  placeholder,
  children,
}: {
  /** which one, as a label says it */
  of: string
  name: 'landing' | 'offer'
  head: string
  branch: Branch
  share: string
  placeholder: string
  children?: React.ReactNode
}) {
  return (
    <Flex gap="2" mb="1" align="center">
      <Text width="86px" flexShrink={0} color="quiet">
        {head}
      </Text>
      <Input
        style={{ flex: 1 }}
        name={`${name}_address`}
        type="url"
        aria-label={of.charAt(0).toUpperCase() + of.slice(1)}
        defaultValue={branch.address}
        placeholder={placeholder}
      />
      {children}
      <Input
        style={{ width: 64 }}
        name={`${name}_weight`}
        inputMode="decimal"
        aria-label={`Weight of ${of}`}
        defaultValue={branch.weight}
      />
      <Text width="48px" color="quiet">
        {branch.address && share}
      </Text>
    </Flex>
  )
}

function NewRoute({ networks, save }: { networks: string[]; save: Save }) {
  return (
    <Box as="details" mt="6" fontSize="13px">
      <Text as="summary" fontSize="15px" fontWeight="650" cursor="pointer">
        Add a code
      </Text>
      <Submit save={save} label="Add the code">
        <Flex gap="3" mt="2">
          <Input
            width="auto"
            name="code"
            aria-label="Code"
            placeholder="code, or leave it empty"
            pattern="[A-Za-z0-9_-]{1,64}"
          />
          <Select name="network" aria-label="Network">
            {networks.map(n => (
              <option key={n}>{n}</option>
            ))}
          </Select>
          <Input
            style={{ flex: 1 }}
            name="landing_address"
            type="url"
            required
            aria-label="Landing page"
            placeholder="https://…"
          />
        </Flex>
      </Submit>
    </Box>
  )
}
