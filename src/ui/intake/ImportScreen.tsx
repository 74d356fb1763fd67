'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useRef, useState } from 'react'
import type { FileKind } from '@/core/intake/records'
import type { NameCheck } from '@/server/import/names'
import { count } from '../format'
import { PartNav } from '../parts/PartNav'
import { NamesTold } from './NamesTold'
import { cancelSending, type Progress, sendFile } from './sendFile'
import { Working } from './Working'

const kinds: Record<FileKind, { holds: string; needs: string }> = {
  delivery: { holds: 'what networks spent and served', needs: 'date, network, campaign_id, currency, spend' },
  orders: { holds: 'what the shop booked', needs: 'order_id, ordered_at, status, currency, total' },
  'claim-rows': {
    holds: 'single conversions that networks claim',
    needs: 'claimed_at, network, ad_id, conversion, kind',
  },
  claims: { holds: 'claims summed by ad and day', needs: 'date, network, ad_id, conversion, click_through' },
  clicks: { holds: 'ad clicks that were seen', needs: 'click_id, clicked_at, network' },
  rates: { holds: 'exchange rates', needs: 'date, base, quote, rate' },
  ads: {
    holds: 'ads by name and ID, where they lead, and the address that stands at the network',
    needs: 'network, campaign_id, ad_id',
  },
}

interface Outcome {
  file: string
  kind: FileKind
  error?: string
  accepted?: number
  duplicates?: number
  /** stopped by hand before its end */
  cancelled?: boolean
  rejected?: { line: number; column: string; reason: string; value?: string; words?: string }[]
  columns?: { header: string; takenFor: string }[]
  names?: NameCheck
}

export interface PastBatch {
  id: string
  file: string
  kind: string
  at: string
  accepted: number
  duplicates: number
  rejected: number
  cancelled: boolean
}

const normal = (header: string) =>
  header
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, '_')

/** The kind whose needed columns a header line has; a row of single claims is told by its instant. */
function guessKind(headerLine: string): FileKind | null {
  const columns = new Set(
    headerLine
      .replace(/^\uFEFF/, '')
      .split(',')
      .map(c => normal(c.replaceAll('"', ''))),
  )
  const fits = (Object.keys(kinds) as FileKind[]).map(kind => {
    const needs = kinds[kind].needs.split(', ')
    const known = needs.filter(n => columns.has(n)).length
    // Of two that fit alike the one that needs more: ads name what deliveries name too.
    return { kind, share: known / needs.length, known }
  })
  const best = fits.sort((a, b) => b.share - a.share || b.known - a.known)[0]
  return best && best.share >= 0.6 ? best.kind : null
}

interface Webhook {
  address: string
  secret: string
}

/** Takes in CSV files: drop, see what each column was taken for, what went in and what did not and why. */
export function ImportScreen({
  past,
  words,
  webhook,
  replaceSecret,
}: {
  past: PastBatch[]
  words: Record<string, string>
  webhook: Webhook
  replaceSecret: () => Promise<void>
}) {
  const [outcomes, setOutcomes] = useState<Outcome[]>([])
  const [busy, setBusy] = useState<string | null>(null)
  const [progress, setProgress] = useState<Progress | null>(null)
  const [over, setOver] = useState(false)
  const [asking, setAsking] = useState<File[]>([])
  const job = useRef('')
  const router = useRouter()
  const input = useRef<HTMLInputElement>(null)

  async function take(file: File, kind: FileKind) {
    setBusy(file.name)
    setProgress(null)
    job.current = crypto.randomUUID()
    const body = await sendFile<Omit<Outcome, 'file' | 'kind'>>(
      `/api/import/${kind}`,
      file,
      { 'x-file-name': encodeURIComponent(file.name) },
      setProgress,
      job.current,
    )
    const rejected = 'rejected' in body ? body.rejected : undefined
    setOutcomes(all => [
      {
        file: file.name,
        kind,
        ...body,
        rejected: rejected?.map(r => ({ ...r, words: words[r.reason] ?? r.reason })),
      },
      ...all,
    ])
    setBusy(null)
    router.refresh()
  }
  async function takeAll(files: File[]) {
    const unknown: File[] = []
    const known: { file: File; kind: FileKind }[] = []
    for (const file of files) {
      const kind = guessKind((await file.slice(0, 8192).text()).split(/\r?\n/)[0] ?? '')
      if (kind) known.push({ file, kind })
      else unknown.push(file)
    }
    setAsking(unknown)
    // Rates first: rows in other currencies need them.
    known.sort((a, b) => Number(b.kind === 'rates') - Number(a.kind === 'rates'))
    for (const { file, kind } of known) await take(file, kind)
  }

  return (
    <Box px="5" py="4" maxWidth="1040px">
      <PartNav here="/intake/import" />
      <Text as="h1" fontSize="19px" mb="3">
        Drop CSV files here. Good rows go in, bad ones are listed with line and reason, and the same file
        twice changes nothing.
      </Text>
      <Box as="details" fontSize="13px" mb="3">
        <summary>Or let the shop send each order as it is booked</summary>
        <Text mt="1">
          It posts to <code>{webhook.address}</code>, signed by the Standard Webhooks specification with the
          secret <code>{webhook.secret}</code>. The fields are the columns of orders.csv. It is answered once
          the order is on disk, also while this application is down.
        </Text>
        <form action={replaceSecret}>
          <Button type="submit" style={{ marginTop: 8 }}>
            Replace the secret
          </Button>{' '}
          The one above goes on being taken for two days.
        </form>
      </Box>
      <Flex
        direction="column"
        align="center"
        justify="center"
        gap="2"
        height="130px"
        borderWidth="1.5px"
        borderStyle="dashed"
        borderColor={over ? 'ink' : 'quiet'}
        bg={over ? 'mark' : 'sheet'}
        onDragOver={e => {
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={e => {
          e.preventDefault()
          setOver(false)
          void takeAll([...e.dataTransfer.files])
        }}
      >
        {busy ? (
          <Working what={`Taking in ${busy}`} progress={progress} stop={() => cancelSending(job.current)} />
        ) : (
          <>
            <Button
              variant="ghost"
              bg="ink"
              color="paper"
              px="4"
              py="2"
              onClick={() => input.current?.click()}
            >
              Choose files
            </Button>
            <Text color="quiet">or drop them on this field</Text>
          </>
        )}
        <input
          ref={input}
          type="file"
          accept=".csv,text/csv"
          multiple
          hidden
          aria-label="CSV files"
          onChange={e =>
            void takeAll([...(e.target.files ?? [])]).then(() => input.current && (input.current.value = ''))
          }
        />
      </Flex>

      {asking.map(file => (
        <Box key={file.name} mt="4" borderTopWidth="2px" borderColor="alarm" pt="2">
          <Text fontWeight="650">{file.name}: its header line fits none of the files. What is it?</Text>
          <Flex gap="2" mt="2" wrap="wrap">
            {(Object.keys(kinds) as FileKind[]).map(kind => (
              <Button
                key={kind}
                onClick={() => {
                  setAsking(asking.filter(f => f !== file))
                  void take(file, kind)
                }}
              >
                {kind}
              </Button>
            ))}
          </Flex>
        </Box>
      ))}

      {outcomes.map((o, i) => (
        <Result key={`${o.file}${outcomes.length - i}`} outcome={o} />
      ))}

      <Flex gap="10" mt="6" align="start">
        <Box flex="1">
          <Text as="h2" fontWeight="650">
            What each file holds
          </Text>
          <table className="ledger">
            <tbody>
              {(Object.keys(kinds) as FileKind[]).map(kind => (
                <tr key={kind}>
                  <th scope="row" style={{ color: 'inherit' }}>
                    {kind}.csv
                  </th>
                  <td style={{ textAlign: 'left', whiteSpace: 'normal' }}>
                    {kinds[kind].holds} <small style={{ opacity: 0.85 }}>({kinds[kind].needs})</small>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Box>
        <Box flex="1">
          <Text as="h2" fontWeight="650">
            Taken in before
          </Text>
          {past.length === 0 && <Text color="quiet">Nothing yet.</Text>}
          <table className="ledger">
            <tbody>
              {past.map(b => (
                <tr key={b.id}>
                  <th
                    scope="row"
                    style={{ color: 'inherit', maxWidth: 160, overflow: 'hidden', textOverflow: 'ellipsis' }}
                    title={b.at}
                  >
                    {b.file}
                  </th>
                  <td>
                    {count(b.accepted)} in{b.cancelled ? ', then cancelled' : ''}
                  </td>
                  <td>{count(b.duplicates)} known</td>
                  <td>{count(b.rejected)} rejected</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Box>
      </Flex>
    </Box>
  )
}

function Result({ outcome: o }: { outcome: Outcome }) {
  return (
    <Box mt="4" borderTopWidth="2px" borderColor={o.error ? 'alarm' : 'shop'} pt="2" role="status">
      <Text fontWeight="650">
        {o.file}, as {o.kind}:{' '}
        {o.error ??
          `${o.cancelled ? 'cancelled. ' : ''}${count(o.accepted ?? 0)} rows in, ${count(o.duplicates ?? 0)} were known already, ${count(o.rejected?.length ?? 0)} rejected.${o.cancelled ? ' Take the file in again to go on: nothing counts twice.' : ''}`}
      </Text>
      {o.columns && (
        <Flex wrap="wrap" gap="1.5" mt="2" fontSize="12px">
          {o.columns.map(c => (
            <Box key={c.header} borderWidth="1px" borderColor="hairline" px="1.5">
              {c.header}{' '}
              <Text as="span" color="quiet">
                {c.takenFor !== 'attribute'
                  ? `→ ${c.takenFor}`
                  : o.kind === 'ads'
                    ? 'not used'
                    : 'kept as it is'}
              </Text>
            </Box>
          ))}
        </Flex>
      )}
      {(o.rejected?.length ?? 0) > 0 && (
        <table className="ledger" style={{ marginTop: 8 }}>
          <thead>
            <tr>
              <th scope="col">line</th>
              <th scope="col" style={{ textAlign: 'left' }}>
                column
              </th>
              <th scope="col" style={{ textAlign: 'left' }}>
                value
              </th>
              <th scope="col" style={{ textAlign: 'left' }}>
                why
              </th>
            </tr>
          </thead>
          <tbody>
            {o.rejected!.slice(0, 100).map(r => (
              <tr key={`${r.line}${r.column}`}>
                <td>{r.line}</td>
                <td style={{ textAlign: 'left' }}>{r.column}</td>
                <td
                  style={{ textAlign: 'left', maxWidth: 220, overflow: 'hidden', textOverflow: 'ellipsis' }}
                >
                  {r.value}
                </td>
                <td style={{ textAlign: 'left', whiteSpace: 'normal' }}>{r.words}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <NamesTold check={o.names} />
      {!o.error && (
        <Box asChild textDecoration="underline" fontSize="13px">
          <Link href={o.kind === 'ads' ? '/links' : '/reconcile'}>See what it changes</Link>
        </Box>
      )}
    </Box>
  )
}
