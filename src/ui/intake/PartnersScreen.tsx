'use client'
import { Box, Button, Flex, Input, type InputProps, Table, Text } from '@chakra-ui/react'
import { useActionState, useState, useTransition } from 'react'
import { type PostbackField, postbackFields, saleStatuses } from '@/core/intake/postback'
import { nextAddress } from '@/core/intake/routing'
import type { PartnerView } from '@/server/partners'
import { count } from '../format'
import { Tick } from '../parts/CheckField'
import { Code } from '../parts/Code'
import { Select } from '../parts/Fields'
import { Page } from '../parts/Page'

const fieldWords: Record<PostbackField, string> = {
  click: 'our click ID, as it came back',
  deal: 'the deal’s own ID',
  amount: 'amount',
  currency: 'currency',
  status: 'status',
}

/** Partners that pay or are paid for sales: the address each sends its postbacks to, and a test. */
export function PartnersScreen({
  partners,
  currency,
  codes,
  save,
  test,
  place,
}: {
  partners: PartnerView[]
  currency: string
  /** codes of the routes that may lead on to an offer */
  codes: string[]
  save: (form: FormData) => Promise<string | null>
  test: (partner: string) => Promise<string>
  place: Place
}) {
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
    >
      {partners.map(view => (
        <Sheet key={view.partner.id} view={view} codes={codes} test={test} place={place} />
      ))}
      <NewPartner currency={currency} save={save} open={partners.length === 0} />
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
  const [busy, start] = useTransition()
  const given = Object.entries(subIds).filter(([, value]) => value !== '')
  const offer = given.length > 0 ? nextQuery(address, given) : address
  return (
    <Box mt="2" fontSize="13px">
      <Text>
        The offer link must carry our click ID as <code>{partner.click_parameter}</code>, or every sale
        arrives without a source. The hop from a route adds it.
      </Text>
      <Flex gap="2" mt="1" wrap="wrap">
        <Input
          style={{ flex: 1, minWidth: 260 }}
          type="url"
          aria-label={`Offer link of ${partner.name}`}
          placeholder={`the offer’s address at ${partner.name}`}
          value={address}
          onChange={event => setAddress(event.target.value.trim())}
        />
        {Object.keys(partner.sub_ids).map(key => (
          <Input
            key={key}
            style={{ width: 110 }}
            aria-label={`Sub-ID ${key} of ${partner.name}`}
            placeholder={`sub-ID ${key}`}
            value={subIds[key] ?? ''}
            onChange={event => setSubIds({ ...subIds, [key]: event.target.value })}
          />
        ))}
        {codes.length > 0 && (
          <>
            <Select
              aria-label={`Route for the offer of ${partner.name}`}
              value={code}
              onChange={event => setCode(event.target.value)}
            >
              {codes.map(c => (
                <option key={c}>{c}</option>
              ))}
            </Select>
            <Button
              disabled={busy || !URL.canParse(address)}
              onClick={() => start(async () => setSaid(await place(code, offer, partner.click_parameter)))}
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
}: {
  view: PartnerView
  codes: string[]
  test: (partner: string) => Promise<string>
  place: Place
}) {
  const { partner, sales } = view
  const [said, setSaid] = useState('')
  const [busy, start] = useTransition()
  return (
    <Box as="section" borderTopWidth="1px" borderColor="hairline" mt="4" pt="3">
      <Flex align="baseline" gap="3">
        <Text as="h2" fontSize="16px" fontWeight="650">
          {partner.name}
        </Text>
        <Text color="quiet" fontSize="13px">
          {count(sales.approved)} approved · {count(sales.pending)} pending · {count(sales.reversed)} reversed
          · each counts as {partner.result}
          {view.secret ? ' · with a secret' : ' · without a secret'}
        </Text>
      </Flex>
      <Copied label={`Postback address: paste it at ${partner.name}`} text={view.postback} />
      <OfferLink partner={partner} codes={codes} place={place} />
      <Flex mt="2" gap="3" align="center" fontSize="13px">
        <Button disabled={busy} onClick={() => start(async () => setSaid(await test(partner.id)))}>
          Send a test postback
        </Button>
        <Text aria-live="polite" color="quiet">
          {busy ? 'Sending …' : said}
        </Text>
      </Flex>
    </Box>
  )
}

function Labelled({ label, ...input }: InputProps & { label: string }) {
  return (
    <label>
      {label}
      <br />
      <Input width="auto" {...input} />
    </label>
  )
}

function NewPartner({
  currency,
  save,
  open,
}: {
  currency: string
  save: (form: FormData) => Promise<string | null>
  open: boolean
}) {
  const [problem, submit, saving] = useActionState((_: string | null, form: FormData) => save(form), null)
  const input = (name: string, label: string, more: InputProps = {}) => (
    <Input width="auto" name={name} aria-label={label} {...more} />
  )
  return (
    <Box as="details" mt="6" {...(open ? { open: true } : {})}>
      <Text as="summary" fontSize="15px" fontWeight="650" cursor="pointer">
        Add a partner
      </Text>
      <form action={submit}>
        <Flex gap="4" mt="3" wrap="wrap" fontSize="13px" align="end">
          <Labelled label="Name" name="name" required />
          <Labelled
            label="Offer link takes our click ID as"
            name="click_parameter"
            {...{
              required: true,
              placeholder: 'p1',
            }}
          />
          <Labelled label="A sale counts as" name="result" placeholder="order" />
          <Labelled
            label="Currency unless it says one"
            name="currency"
            defaultValue={currency}
            htmlSize={4}
            required
          />
          <Tick name="secret" ticked>
            with a secret in the address
          </Tick>
        </Flex>
        <Table.Root mt="3" maxWidth="640px">
          <thead>
            <tr>
              <th scope="col">its postback says</th>
              <th scope="col">in the parameter</th>
              <th scope="col">filled by its macro</th>
            </tr>
          </thead>
          <tbody>
            {postbackFields.map(f => (
              <tr key={f}>
                <th scope="row">{fieldWords[f]}</th>
                <td>
                  {input(`parameter_${f}`, `Parameter of ${fieldWords[f]}`, { required: f === 'deal' })}
                </td>
                <td>{input(`macro_${f}`, `Macro of ${fieldWords[f]}`)}</td>
              </tr>
            ))}
          </tbody>
        </Table.Root>
        <Flex gap="4" mt="3" fontSize="13px" wrap="wrap">
          {saleStatuses.map(s => (
            <Labelled key={s} label={`Its words for ${s}`} name={`status_${s}`} placeholder={s} />
          ))}
        </Flex>
        {problem && (
          <Text color="alarm" mt="2" whiteSpace="pre-wrap" fontSize="13px">
            {problem}
          </Text>
        )}
        <Button type="submit" disabled={saving} style={{ marginTop: 12 }}>
          {saving ? 'Saving …' : 'Add the partner'}
        </Button>
      </form>
    </Box>
  )
}
