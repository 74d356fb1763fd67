'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { Copy } from 'lucide-react'
import { useActionState, useState, useTransition } from 'react'
import { type PostbackField, postbackFields, saleStatuses } from '@/core/intake/postback'
import type { PartnerView } from '@/server/partners'
import { count } from '../format'
import { IntakeNav } from './IntakeNav'

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
  save,
  test,
}: {
  partners: PartnerView[]
  currency: string
  save: (form: FormData) => Promise<string | null>
  test: (partner: string) => Promise<string>
}) {
  const withoutClick = partners.reduce((sum, p) => sum + p.sales.withoutClick, 0)
  const sales = partners.reduce((sum, { sales: s }) => sum + s.approved + s.pending + s.reversed, 0)
  return (
    <Box px="5" pt="4" pb="8" maxWidth="66rem">
      <IntakeNav here="/intake/partners" />
      <Text as="h1" fontSize="19px">
        {partners.length === 0
          ? 'No partner sends postbacks yet. Describe how yours writes them, and paste the address that comes out into its form.'
          : `${count(partners.length)} ${partners.length === 1 ? 'partner has' : 'partners have'} told of ${count(sales)} ${sales === 1 ? 'sale' : 'sales'}${withoutClick > 0 ? `; ${count(withoutClick)} came with no click ID that we know` : ''}.`}
      </Text>
      {partners.map(view => (
        <Sheet key={view.partner.id} view={view} test={test} />
      ))}
      <NewPartner currency={currency} save={save} open={partners.length === 0} />
    </Box>
  )
}

function Copied({ label, text }: { label: string; text: string }) {
  const [done, setDone] = useState(false)
  return (
    <Box mt="2">
      <Flex justify="space-between" fontSize="13px" color="quiet">
        <span>{label}</span>
        <button
          type="button"
          onClick={() => void navigator.clipboard.writeText(text).then(() => setDone(true))}
          style={{ cursor: 'pointer', display: 'inline-flex', gap: 4, alignItems: 'center' }}
        >
          <Copy size={13} /> {done ? 'copied' : 'copy'}
        </button>
      </Flex>
      <Box fontFamily="mono" fontSize="13px" bg="sheet" px="2" py="1" wordBreak="break-all">
        {text}
      </Box>
    </Box>
  )
}

function Sheet({ view, test }: { view: PartnerView; test: (partner: string) => Promise<string> }) {
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
      <Box mt="2" fontSize="13px">
        Its offer link must carry <code>{partner.click_parameter}=</code> and our click ID, or every sale
        arrives without a source. A route’s hop to an offer adds it by itself.
      </Box>
      <Flex mt="2" gap="3" align="center" fontSize="13px">
        <button
          type="button"
          className="field press"
          disabled={busy}
          onClick={() => start(async () => setSaid(await test(partner.id)))}
        >
          Send a test postback
        </button>
        <Text aria-live="polite" color="quiet">
          {busy ? 'Sending …' : said}
        </Text>
      </Flex>
    </Box>
  )
}

function Labelled({ label, ...input }: React.ComponentProps<'input'> & { label: string }) {
  return (
    <label>
      {label}
      <br />
      <input className="field" {...input} />
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
  const input = (name: string, label: string, more: React.ComponentProps<'input'> = {}) => (
    <input className="field" name={name} aria-label={label} {...more} />
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
            size={4}
            required
          />
          <label>
            <input type="checkbox" name="secret" defaultChecked /> with a secret in the address
          </label>
        </Flex>
        <table className="ledger" style={{ marginTop: 12, maxWidth: 640 }}>
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
        </table>
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
        <button type="submit" className="field press" disabled={saving} style={{ marginTop: 12 }}>
          {saving ? 'Saving …' : 'Add the partner'}
        </button>
      </form>
    </Box>
  )
}
