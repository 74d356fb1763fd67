'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { QRCodeSVG } from 'qrcode.react'
import { useRef, useState } from 'react'
import * as z from 'zod'
import {
  type ParameterLineProblem,
  readParameterLines,
  writeParameterLines,
} from '@/core/links/parameterLines'
import { isPlacement, PLACEMENTS, type SavedLink } from '@/core/links/savedLink'
import { minor } from '@/core/shared/money'
import type { LibraryLink, LinkForm } from '@/server/links/library'
import { useFormats } from '../format'
import { AmountField } from '../parts/AmountField'
import { CheckField } from '../parts/CheckField'
import { CopyButton } from '../parts/Code'
import { DayField } from '../parts/DayField'
import { LongTextField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { saveFile } from '../parts/saveFile'
import { useSending } from '../parts/useSending'
import { Mono } from '../parts/WordLink'
import { LinkHistory } from './LinkHistory'
import { TriedWay } from './TryPanel'

export interface LibraryActions {
  save: (code: string, known: string | null, form: LinkForm) => Promise<string | null>
  bringBack: (code: string, until: number) => Promise<string | null>
  listHosts: (hosts: string[]) => Promise<string | null>
}
export type AskedAd = Pick<SavedLink, 'network' | 'campaign' | 'ad_set' | 'ad'> & {
  landingPage: string | null
}

const lineProblems: Record<ParameterLineProblem['code'], string> = {
  no_parameter: 'is no parameter; write it as key=value',
  key_twice: 'sets a key that stands above; remove one of the two',
}

/** A link as it is typed. */
const formSchema = z
  .object({
    title: z.string().trim().min(1).max(200),
    occasion: z.string().max(200),
    made_for: z.string().max(200),
    note: z.string().max(4000),
    destination: z.string().trim().min(1),
    code: z.string(),
    parameters: z.string().superRefine((text, ctx) => {
      for (const { line, text: own, code } of readParameterLines(text).problems)
        ctx.addIssue({
          code: 'custom',
          message: `Line ${line} of the parameters, “${own}”, ${lineProblems[code]}.`,
        })
    }),
    amount: z.number().positive('Write what it cost as an amount, as 240.00.').optional(),
    from: z.string(),
    to: z.string(),
    archived: z.boolean(),
  })
  .refine(({ amount, from, to }) => amount === undefined || (from !== '' && to !== ''), {
    path: ['days'],
    error: 'Say for which days it was paid.',
  })
type Typed = z.infer<typeof formSchema>

/** One saved link: what it is, where it leads, its code as text and QR, its cost, and what it was before. */
export function LibraryForm({
  line,
  asked,
  origin,
  hosts,
  fresh,
  actions,
  saved,
  close,
}: {
  /** null for a new one */
  line: LibraryLink | null
  asked: AskedAd | null
  origin: string
  /** hosts that ads lead to, as long as none is listed */
  hosts: readonly string[]
  /** whether it was saved just now: its address is shown and tried */
  fresh: boolean
  actions: LibraryActions
  /** a new one is saved */
  saved: () => void
  close: () => void
}) {
  const { currency } = useFormats()
  const link = line?.link
  const of = link ? (isPlacement(link) ? null : link) : asked
  const given: Typed = {
    title: link?.title ?? (asked ? `${asked.ad.name}, ${asked.campaign.name}` : ''),
    occasion: link?.campaign.name ?? '',
    made_for: link?.made_for ?? '',
    note: link?.note ?? '',
    destination: link?.destination ?? asked?.landingPage ?? '',
    code: line?.code ?? '',
    parameters: writeParameterLines(link?.parameters ?? (of ? {} : { utm_source: '', utm_campaign: '' })),
    amount: link?.cost?.amount,
    from: link?.cost?.from ?? '',
    to: link?.cost?.to ?? '',
    archived: link?.archived ?? false,
  }
  const keep = async ({ title, occasion, amount, from, to, parameters, code, ...own }: Typed) => {
    const problem = await actions.save(code, line?.code ?? null, {
      ...own,
      of: of ? { network: of.network, campaign: of.campaign, ad_set: of.ad_set, ad: of.ad } : null,
      title,
      campaign: occasion.trim() || title,
      ad: title,
      network: of?.network ?? PLACEMENTS,
      parameters: readParameterLines(parameters).parameters,
      cost: amount === undefined ? null : { amount: minor(amount), currency, from, to },
    })
    if (problem === null && !line) saved()
    return problem
  }
  return (
    <FormPanel
      title={link?.title ?? (asked ? `Save the link of ${asked.ad.name}` : 'A new link')}
      label="The link"
      width={420}
      schema={formSchema}
      given={given}
      keepWords="Keep the link"
      save={keep}
      close={close}
      kept={link && `“${link.title}” is changed.`}
      after={line && <Kept line={line} hosts={hosts} fresh={fresh} actions={actions} />}
    >
      {({ from, to }, form) => {
        const setDay = (end: 'from' | 'to') => (day: string) => form.setValue(end, day, { shouldDirty: true })
        return (
          <>
            <TextField label="What it is" name="title" />
            {!of && (
              <TextField
                label="Occasion, which sums its placements"
                name="occasion"
                placeholder="October newsletter"
              />
            )}
            <TextField mono label="Leads to" name="destination" placeholder="https://…" />
            <TextField
              mono
              label="Short code"
              name="code"
              placeholder="one is made"
              help={`it stands after ${origin}/c/${link && link.former_codes.length > 0 ? `; former codes that lead on: ${link.former_codes.join(', ')}` : ''}`}
            />
            {!of && <LongTextField mono label="Parameters, one a line" name="parameters" rows={3} />}
            <TextField label="For whom" name="made_for" />
            <LongTextField label="Note" name="note" rows={2} />
            {!of && (
              <Box as="fieldset" border="0" mt="2">
                <legend>What it cost, as nobody reports it</legend>
                <Flex gap="1.5" align="center" wrap="wrap">
                  <AmountField
                    unseen
                    label={`Cost in ${currency}`}
                    name="amount"
                    currency={currency}
                    placeholder="240.00"
                    width="60px"
                  />
                  <span>from</span>
                  <DayField unseen label="First day of the cost" value={from} change={setDay('from')} />
                  to
                  <DayField unseen label="Last day of the cost" value={to} change={setDay('to')} />
                </Flex>
              </Box>
            )}
            <CheckField label="archived: out of sight, its code still leads on" name="archived" />
          </>
        )
      }}
    </FormPanel>
  )
}

/** What a link that is kept has: its address as text and QR, its way, and what it was. */
function Kept({
  line,
  hosts,
  fresh,
  actions,
}: {
  line: LibraryLink
  hosts: readonly string[]
  fresh: boolean
  actions: LibraryActions
}) {
  const [problem, setProblem] = useState('')
  // Whether its page answers is said as soon as it is saved.
  const [trying, setTrying] = useState(fresh)
  const [busy, send] = useSending()
  const qrCode = useRef<SVGSVGElement>(null)
  const takeQr = () => {
    if (!qrCode.current) return
    saveFile(`${line.code}.svg`, new XMLSerializer().serializeToString(qrCode.current), 'image/svg+xml')
  }
  return (
    <>
      <Flex mt="4" gap="3" align="end">
        <Box bg="white" p="2">
          <QRCodeSVG ref={qrCode} value={line.address} size={116} title={`QR code of ${line.address}`} />
        </Box>
        <Flex direction="column" gap="1.5" align="start">
          <Mono>{line.address}</Mono>
          <CopyButton text={line.address}>Copy the address</CopyButton>
          <Button onClick={takeQr}>QR code as SVG</Button>
          <Button aria-expanded={trying} onClick={() => setTrying(!trying)}>
            Try it
          </Button>
        </Flex>
      </Flex>
      {trying && (
        <Box as="section" aria-label="Its way" mt="3">
          <TriedWay address={line.address} hosts={hosts} list={actions.listHosts} />
        </Box>
      )}
      {problem && (
        <Text role="alert" color="alarm" mt="2">
          {problem}
        </Text>
      )}
      {line.history.length > 0 && (
        <LinkHistory
          line={line}
          busy={busy}
          bringBack={until => send(async () => setProblem((await actions.bringBack(line.code, until)) ?? ''))}
        />
      )}
    </>
  )
}
