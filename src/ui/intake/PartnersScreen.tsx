'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { nextAddress } from '@/core/intake/routing'
import type { PartnerView } from '@/server/partners'
import { useFormats } from '../format'
import { Code } from '../parts/Code'
import { SelectField, TextField } from '../parts/Fields'
import { Note, Page } from '../parts/Page'
import { useSending } from '../parts/useSending'
import type { KeepPartner } from './PartnerForm'

const PartnerForm = dynamic(() => import('./PartnerForm').then(m => m.PartnerForm), { ssr: false })

/** Partners that pay or are paid for sales: the address each sends its postbacks to, and a test. */
export function PartnersScreen({
  partners,
  codes,
  keep,
  test,
  place,
}: {
  partners: PartnerView[]
  /** codes of the routes that may lead on to an offer */
  codes: string[]
  keep: KeepPartner
  test: (partner: string) => Promise<string>
  place: Place
}) {
  const [open, setOpen] = useState<string | null>(null)
  const opened = partners.find(p => p.partner.id === open)
  const { count, currency } = useFormats()
  const withoutClick = partners.reduce((sum, p) => sum + p.sales.withoutClick, 0)
  const sales = partners.reduce((sum, { sales: s }) => sum + s.approved + s.pending + s.reversed, 0)
  return (
    <Page
      at="/intake/partners"
      says={
        partners.length === 0
          ? 'No partner sends postbacks yet. Describe how yours writes them, and paste the address that comes out into its form.'
          : `${count(partners.length)} ${partners.length === 1 ? 'partner has' : 'partners have'} told of ${count(sales)} ${sales === 1 ? 'sale' : 'sales'}${withoutClick > 0 ? `; ${count(withoutClick)} came with no click ID that we know` : ''}.`
      }
      actions={<Button onClick={() => setOpen('')}>Add a partner</Button>}
      beside={
        open !== null && (
          <PartnerForm
            key={open}
            partner={opened ? { ...opened.partner, secret: opened.secret } : null}
            currency={currency}
            keep={keep}
            close={() => setOpen(null)}
          />
        )
      }
    >
      {partners.map(view => (
        <Sheet
          key={view.partner.id}
          view={view}
          codes={codes}
          test={test}
          place={place}
          change={() => setOpen(view.partner.id)}
        />
      ))}
    </Page>
  )
}

const Copied = ({ label, text }: { label: string; text: string }) => (
  <Box mt="2" fontSize="13px" maxWidth="66rem">
    <Text color="quiet">{label}</Text>
    <Code text={text} />
  </Box>
)

/** Puts an offer on a route; says what became of it. */
type Place = (code: string, address: string, parameter: string) => Promise<string>

/** Writes the offer link by which sales come back with their source, and puts the offer on a route. */
function OfferLink({
  partner,
  codes,
  place,
}: {
  partner: PartnerView['partner']
  codes: string[]
  place: Place
}) {
  const [address, setAddress] = useState('')
  const [subIds, setSubIds] = useState<Record<string, string>>({})
  const [code, setCode] = useState(codes[0] ?? '')
  const [said, setSaid] = useState('')
  const [busy, send] = useSending()
  const given = Object.entries(subIds).filter(([, value]) => value !== '')
  const offer = given.length > 0 ? nextQuery(address, given) : address
  return (
    <Box mt="2" fontSize="13px">
      <Text>
        The offer link must carry our click ID as <code>{partner.click_parameter}</code>, or every sale
        arrives without a source. The hop from a route adds it.
      </Text>
      <Flex gap="2" mt="1" wrap="wrap">
        <TextField
          unseen
          width="340px"
          type="url"
          label={`Offer link of ${partner.name}`}
          placeholder={`the offer’s address at ${partner.name}`}
          value={address}
          change={text => setAddress(text.trim())}
        />
        {Object.keys(partner.sub_ids).map(key => (
          <TextField
            key={key}
            unseen
            width="110px"
            label={`Sub-ID ${key} of ${partner.name}`}
            placeholder={`sub-ID ${key}`}
            value={subIds[key] ?? ''}
            change={value => setSubIds({ ...subIds, [key]: value })}
          />
        ))}
        {codes.length > 0 && (
          <>
            <SelectField
              unseen
              label={`Route for the offer of ${partner.name}`}
              value={code}
              change={setCode}
              choices={codes.map(c => [c, c])}
            />
            <Button
              disabled={busy || !URL.canParse(address)}
              onClick={() => send(async () => setSaid(await place(code, offer, partner.click_parameter)))}
            >
              Lead the route on to it
            </Button>
          </>
        )}
      </Flex>
      {URL.canParse(address) && (
        <Copied
          label="The offer link, as a click takes it"
          text={nextAddress(offer, '', partner.click_parameter, 'CLICK').replace(
            /CLICK(?=#|$)/,
            '(our click ID)',
          )}
        />
      )}
      <Text aria-live="polite" color="quiet">
        {said}
      </Text>
    </Box>
  )
}

function nextQuery(address: string, given: [string, string][]): string {
  if (!URL.canParse(address)) return address
  const url = new URL(address)
  for (const [key, value] of given) url.searchParams.set(key, value)
  return url.href
}

function Sheet({
  view,
  codes,
  test,
  place,
  change,
}: {
  view: PartnerView
  codes: string[]
  test: (partner: string) => Promise<string>
  place: Place
  change: () => void
}) {
  const { count } = useFormats()
  const { partner, sales } = view
  const [said, setSaid] = useState('')
  const [busy, send] = useSending()
  return (
    <Box as="section" borderTopWidth="1px" borderColor="hairline" mt="4" pt="3">
      <Flex align="baseline" gap="3">
        <Text as="h2" fontSize="16px" fontWeight="650">
          {partner.name}
        </Text>
        <Text color="quiet" fontSize="13px">
          {count(sales.approved)} approved · {count(sales.pending)} pending · {count(sales.reversed)} reversed
          · each counts as {partner.result}
          {view.secret ? ' · with a secret' : ''}
        </Text>
      </Flex>
      {!view.secret && (
        <Note alarm>
          This partner has no secret: whoever knows the address below can report sales. Edit the partner, turn
          its secret on, and paste the new address at {partner.name}.
        </Note>
      )}
      <Copied label={`Postback address: paste it at ${partner.name}`} text={view.postback} />
      <OfferLink partner={partner} codes={codes} place={place} />
      <Flex mt="2" gap="3" align="center" fontSize="13px">
        <Button disabled={busy} onClick={() => send(async () => setSaid(await test(partner.id)))}>
          Send a test postback
        </Button>
        <Button aria-label={`Change ${partner.name}`} onClick={change}>
          Change
        </Button>
        <Text aria-live="polite" color="quiet">
          {busy ? 'Sending …' : said}
        </Text>
      </Flex>
    </Box>
  )
}
