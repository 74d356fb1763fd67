'use client'
import { Box, Button, Flex, Input, Text, Textarea } from '@chakra-ui/react'
import { QRCodeSVG } from 'qrcode.react'
import { useRef, useState, useTransition } from 'react'
import type { HandCost } from '@/core/links/handCost'
import {
  type ParameterLineProblem,
  readParameterLines,
  writeParameterLines,
} from '@/core/links/parameterLines'
import { isPlacement, PLACEMENTS, type SavedLink } from '@/core/links/savedLink'
import { minor } from '@/core/shared/money'
import type { LibraryLink, LinkForm } from '@/server/links/library'
import { AmountField } from '../parts/AmountField'
import { CheckField } from '../parts/Fields'
import { SidePanel } from '../parts/SidePanel'
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

/** One saved link: what it is, where it leads, its code as text and QR, its cost, and what it was before. */
export function LibraryForm({
  line,
  asked,
  currency,
  zone,
  origin,
  hosts,
  actions,
  close,
}: {
  /** null for a new one */
  line: LibraryLink | null
  asked: AskedAd | null
  currency: string
  zone: string
  origin: string
  /** hosts that ads lead to, as long as none is listed */
  hosts: readonly string[]
  actions: LibraryActions
  close: () => void
}) {
  const link = line?.link
  const of = link ? (isPlacement(link) ? null : link) : asked
  const [title, setTitle] = useState(link?.title ?? (asked ? `${asked.ad.name}, ${asked.campaign.name}` : ''))
  const [occasion, setOccasion] = useState(link?.campaign.name ?? '')
  const [madeFor, setMadeFor] = useState(link?.made_for ?? '')
  const [note, setNote] = useState(link?.note ?? '')
  const [destination, setDestination] = useState(link?.destination ?? asked?.landingPage ?? '')
  const [code, setCode] = useState(line?.code ?? '')
  const [parameters, setParameters] = useState(
    writeParameterLines(link?.parameters ?? (of ? {} : { utm_source: '', utm_campaign: '' })),
  )
  /** minor units; undefined for none, null for what is no amount */
  const [amount, setAmount] = useState<number | undefined | null>(link?.cost?.amount)
  const [from, setFrom] = useState(link?.cost?.from ?? '')
  const [to, setTo] = useState(link?.cost?.to ?? '')
  const [archived, setArchived] = useState(link?.archived ?? false)
  const [said, setSaid] = useState<{ text: string; bad: boolean }>({ text: '', bad: false })
  const [trying, setTrying] = useState(false)
  const [busy, start] = useTransition()
  const qrCode = useRef<SVGSVGElement>(null)

  const readCost = (): HandCost | null | 'wrong' => {
    if (amount === undefined) return null
    return amount === null || amount <= 0 ? 'wrong' : { amount: minor(amount), currency, from, to }
  }
  const keep = () =>
    start(async () => {
      const cost = readCost()
      if (cost === 'wrong')
        return setSaid({ text: `Write the cost as an amount of ${currency}, as 240.00.`, bad: true })
      const read = readParameterLines(parameters)
      if (read.problems.length > 0) {
        const said = read.problems.map(
          p => `Line ${p.line} of the parameters, “${p.text}”, ${lineProblems[p.code]}.`,
        )
        return setSaid({ text: said.join('\n'), bad: true })
      }
      const problem = await actions.save(code, line?.code ?? null, {
        of: of ? { network: of.network, campaign: of.campaign, ad_set: of.ad_set, ad: of.ad } : null,
        title,
        campaign: occasion.trim() || title,
        ad: title,
        network: of?.network ?? PLACEMENTS,
        made_for: madeFor,
        note,
        destination: destination.trim(),
        parameters: read.parameters,
        archived,
        cost,
      })
      setSaid({ text: problem ?? 'Kept.', bad: problem !== null })
      if (problem === null) close()
    })
  const takeQr = () => {
    if (!qrCode.current || !line) return
    const file = new Blob([new XMLSerializer().serializeToString(qrCode.current)], { type: 'image/svg+xml' })
    const anchor = document.createElement('a')
    anchor.href = URL.createObjectURL(file)
    anchor.download = `${line.code}.svg`
    anchor.click()
    URL.revokeObjectURL(anchor.href)
  }
  return (
    <SidePanel
      title={link?.title ?? (asked ? `Save the link of ${asked.ad.name}` : 'A new link')}
      label="The link"
      width={420}
      close={close}
    >
      <form
        onSubmit={event => {
          event.preventDefault()
          keep()
        }}
      >
        <Flex direction="column" gap="2">
          <label>
            What it is
            <Input required value={title} maxLength={200} onChange={e => setTitle(e.target.value)} />
          </label>
          {!of && (
            <label>
              Occasion, which sums its placements
              <Input
                placeholder="October newsletter"
                value={occasion}
                maxLength={200}
                onChange={e => setOccasion(e.target.value)}
              />
            </label>
          )}
          <label>
            Leads to
            <Input
              required
              style={mono}
              placeholder="https://…"
              value={destination}
              onChange={e => setDestination(e.target.value)}
            />
          </label>
          <label>
            Short code
            <Flex align="center" gap="1">
              <Text as="span" color="quiet" style={mono} flexShrink={0}>
                {origin}/c/
              </Text>
              <Input
                style={mono}
                placeholder="one is made"
                value={code}
                onChange={e => setCode(e.target.value)}
              />
            </Flex>
          </label>
          {link && link.former_codes.length > 0 && (
            <Text color="quiet">Former codes that lead on: {link.former_codes.join(', ')}</Text>
          )}
          {!of && (
            <label>
              Parameters, one a line
              <Textarea
                rows={3}
                style={{ ...mono, height: 'auto' }}
                value={parameters}
                onChange={e => setParameters(e.target.value)}
              />
            </label>
          )}
          <label>
            For whom
            <Input value={madeFor} maxLength={200} onChange={e => setMadeFor(e.target.value)} />
          </label>
          <label>
            Note
            <Textarea
              rows={2}
              style={{ height: 'auto' }}
              value={note}
              maxLength={4000}
              onChange={e => setNote(e.target.value)}
            />
          </label>
          {!of && (
            <Box as="fieldset" border="0">
              <legend>What it cost, as nobody reports it</legend>
              <Flex gap="1.5" align="center">
                <AmountField
                  label={`Cost in ${currency}`}
                  value={amount ?? undefined}
                  currency={currency}
                  change={setAmount}
                  placeholder="240.00"
                  width="72px"
                  unseen
                />
                <span>from</span>
                <Input
                  width="auto"
                  type="date"
                  aria-label="First day of the cost"
                  value={from}
                  onChange={e => setFrom(e.target.value)}
                  required={amount !== undefined}
                />
                to
                <Input
                  width="auto"
                  type="date"
                  aria-label="Last day of the cost"
                  value={to}
                  onChange={e => setTo(e.target.value)}
                  required={amount !== undefined}
                />
              </Flex>
            </Box>
          )}
          <CheckField
            label="archived: out of sight, its code still leads on"
            value={archived}
            change={setArchived}
          />
          <Text color={said.bad ? 'alarm' : 'quiet'} role="status" whiteSpace="pre-wrap">
            {said.text}
          </Text>
          <Button type="submit" disabled={busy}>
            {busy ? 'Keeping …' : 'Keep the link'}
          </Button>
        </Flex>
      </form>
      {line && (
        <Flex mt="4" gap="3" align="end">
          <Box bg="white" p="2">
            <QRCodeSVG ref={qrCode} value={line.address} size={116} title={`QR code of ${line.address}`} />
          </Box>
          <Flex direction="column" gap="1.5" align="start">
            <Text style={mono} wordBreak="break-all">
              {line.address}
            </Text>
            <Button
              onClick={() =>
                navigator.clipboard.writeText(line.address).then(
                  () => setSaid({ text: 'Address copied.', bad: false }),
                  () => setSaid({ text: 'The browser did not allow copying.', bad: true }),
                )
              }
            >
              Copy the address
            </Button>
            <Button onClick={takeQr}>QR code as SVG</Button>
            <Button aria-expanded={trying} onClick={() => setTrying(!trying)}>
              Try it
            </Button>
          </Flex>
        </Flex>
      )}
      {line && trying && (
        <Box as="section" aria-label="Its way" mt="3">
          <TriedWay address={line.address} hosts={hosts} list={actions.listHosts} />
        </Box>
      )}
      {line && line.history.length > 0 && (
        <LinkHistory
          line={line}
          zone={zone}
          busy={busy}
          bringBack={until =>
            start(async () => {
              const problem = await actions.bringBack(line.code, until)
              if (problem) setSaid({ text: problem, bad: true })
            })
          }
        />
      )}
    </SidePanel>
  )
}

const mono = { fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }
