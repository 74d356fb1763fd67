'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useRef, useState } from 'react'
import type { FileKind } from '@/core/intake/records'
import type { NameCheck } from '@/server/import/names'
import { useFormats } from '../format'
import { FilesInput } from '../parts/FileButton'
import { Fold } from '../parts/Fold'
import { Note, Page } from '../parts/Page'
import { DataTable } from '../parts/table/DataTable'
import { WordLink } from '../parts/WordLink'
import { NamesTold } from './NamesTold'
import { NextFile } from './NextFile'
import { offerUndo, type UndoImport } from './offerUndo'
import { cancelSending, type Progress, sendFile } from './sendFile'
import { isArchive, unpacked } from './unpacked'
import { Working } from './Working'
import { type Destination, screenOf, useComing, wait } from './waitingFiles'
import { whereTo } from './whereTo'

const kinds: Record<FileKind, { holds: string; needs: string }> = {
  delivery: { holds: 'what networks spent and served', needs: 'date, network, campaign_id, currency, spend' },
  orders: { holds: 'what the shop booked', needs: 'order_id, ordered_at, status, currency, total' },
  'claim-rows': {
    holds: 'single conversions that networks claim',
    needs: 'claimed_at, network, ad_id, conversion, kind',
  },
  claims: {
    holds: 'claims summed by day and ad, or by ad set or campaign',
    needs: 'date, network, ad_id or campaign_id, conversion, click_through',
  },
  clicks: { holds: 'ad clicks that were seen', needs: 'click_id, clicked_at, network' },
  rates: { holds: 'exchange rates', needs: 'date, base, quote, rate' },
  ads: {
    holds: 'ads by name and ID, where they lead, and the address that stands at the network',
    needs: 'network, campaign_id, ad_id',
  },
}

/** Whether a file of an archive bears the name of one of the files of records. */
const isRecords = (name: string) => Object.keys(kinds).some(kind => name === `${kind}.csv`)

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
  batch?: string | null
}

export interface PastBatch {
  id: string
  file: string
  kind: string
  at: number
  accepted: number
  duplicates: number
  rejected: number
  cancelled: boolean
  undone: boolean
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
  undo,
}: {
  past: PastBatch[]
  words: Record<string, string>
  webhook: Webhook
  replaceSecret: () => Promise<void>
  undo: UndoImport
}) {
  const { count } = useFormats()
  const [outcomes, setOutcomes] = useState<Outcome[]>([])
  const [busy, setBusy] = useState<string | null>(null)
  const [progress, setProgress] = useState<Progress | null>(null)
  const [over, setOver] = useState(false)
  const [archive, setArchive] = useState('')
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
    if (!('error' in body)) offerUndo(body.batch, file.name, undo)
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
  async function takeAll(given: File[]) {
    setArchive('')
    const files: File[] = []
    for (const file of given) {
      if (!isArchive(file)) {
        files.push(file)
        continue
      }
      setBusy(file.name)
      try {
        const { files: within, others } = await unpacked(file)
        files.push(...within.filter(one => isRecords(one.name)))
        const left = [...others, ...within.map(one => one.name).filter(name => !isRecords(name))]
        if (left.length > 0)
          setArchive(
            `Of ${file.name}, ${left.join(', ')} cannot be imported here: only files of records can.`,
          )
      } catch (error) {
        setArchive(error instanceof Error ? error.message : `${file.name} cannot be read.`)
      }
      setBusy(null)
    }
    const found = await Promise.all(files.map(async file => ({ file, place: await whereTo(file) })))
    const known = found.flatMap(({ file, place }) =>
      place?.to === 'import' && place.kind ? [{ file, kind: place.kind }] : [],
    )
    setAsking(found.filter(({ place }) => place?.to !== 'import').map(({ file }) => file))
    // Rates first, which rows in other currencies need, and ads before what names them.
    const first = (kind: FileKind) => ['rates', 'ads'].indexOf(kind) + 2 || 9
    known.sort((a, b) => first(a.kind) - first(b.kind))
    for (const { file, kind } of known) await take(file, kind)
  }
  useComing('import', busy === null, ({ file, place }) => {
    if (place.to === 'import' && place.kind) void take(file, place.kind)
    else setAsking([...asking, file])
  })
  const send = (file: File, place: Destination) => {
    setAsking(asking.filter(one => one !== file))
    wait([{ file, place }], true)
    router.push(screenOf[place.to])
  }

  return (
    <Page
      at="/intake/import"
      says="Drop CSV files here, or a ZIP archive of them. Good rows go in, bad ones are listed with line and reason, and the same file twice changes nothing."
    >
      <Fold my="3" title="Or let the shop send each order as it is booked">
        <Text mt="1">
          It posts to <code>{webhook.address}</code>, signed by the Standard Webhooks specification with the
          secret <code>{webhook.secret}</code>. The fields are the columns of orders.csv. It is answered once
          the order is on disk, also while this application is down.
        </Text>
        <form action={replaceSecret}>
          <Button type="submit" mt="2">
            Replace the secret
          </Button>{' '}
          The one above goes on being taken for two days.
        </form>
      </Fold>
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
          e.stopPropagation()
          setOver(false)
          void takeAll([...e.dataTransfer.files])
        }}
      >
        {busy ? (
          <Working what={`Importing ${busy}`} progress={progress} stop={() => cancelSending(job.current)} />
        ) : (
          <>
            <Button variant="solid" size="lg" onClick={() => input.current?.click()}>
              Choose files
            </Button>
            <Text color="quiet">or drop them on this field</Text>
          </>
        )}
        <FilesInput
          input={input}
          label="CSV files"
          accept=".csv,.zip,.xlsx,.tsv,.txt,.json,.jsonl,text/csv"
          take={files => void takeAll(files)}
        />
      </Flex>

      {archive && <Note alarm>{archive}</Note>}
      {asking.map(file => (
        <Box key={file.name} mt="4" borderTopWidth="2px" borderColor="alarm" pt="2">
          <Text fontWeight="650">{file.name}: its header line fits none of the files. What is it?</Text>
          <Flex gap="2" mt="2" wrap="wrap">
            <Button variant="solid" onClick={() => send(file, { to: 'shop' })}>
              the shop’s own export
            </Button>
            <Button variant="solid" onClick={() => send(file, { to: 'report', network: null })}>
              a network’s report
            </Button>
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

      <NextFile go={() => {}} />
      {outcomes.map((o, i) => (
        <Result key={`${o.file}${outcomes.length - i}`} outcome={o} />
      ))}

      <Flex gap="10" mt="6" align="start">
        <Box flex="1">
          <Text as="h2" fontWeight="650">
            What each file holds
          </Text>
          <DataTable
            label="What each file holds"
            columns={[
              { id: 'file', words: true, value: kind => `${kind}.csv` },
              {
                id: 'holds',
                heading: 'holds, and needs',
                words: true,
                wraps: true,
                value: kind => `${kinds[kind].holds} (${kinds[kind].needs})`,
              },
            ]}
            rows={Object.keys(kinds) as FileKind[]}
            rowId={kind => kind}
          />
        </Box>
        <Box flex="1">
          <Text as="h2" fontWeight="650">
            Imported before
          </Text>
          <DataTable
            label="Imported before"
            columns={[
              { id: 'file', words: true, wraps: true, value: b => b.file },
              { id: 'at', heading: 'when', as: 'instant', value: b => b.at },
              {
                id: 'in',
                heading: 'rows in',
                value: b => b.accepted,
                cell: b =>
                  `${count(b.accepted)}${b.undone ? ', undone' : b.cancelled ? ', then cancelled' : ''}`,
              },
              { id: 'known', value: b => b.duplicates },
              { id: 'rejected', value: b => b.rejected },
            ]}
            rows={past}
            rowId={b => b.id}
            empty="Nothing yet."
          />
        </Box>
      </Flex>
    </Page>
  )
}

function Result({ outcome: o }: { outcome: Outcome }) {
  const { count } = useFormats()
  return (
    <Box mt="4" borderTopWidth="2px" borderColor={o.error ? 'alarm' : 'shop'} pt="2" role="status">
      <Text fontWeight="650">
        {o.file}, as {o.kind}:{' '}
        {o.error ??
          `${o.cancelled ? 'cancelled. ' : ''}${count(o.accepted ?? 0)} rows in, ${count(o.duplicates ?? 0)} were known already, ${count(o.rejected?.length ?? 0)} rejected.${o.cancelled ? ' Import the file again to go on: nothing counts twice.' : ''}`}
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
        <DataTable
          label={`Rows of ${o.file} that were rejected`}
          columns={[
            { id: 'line', value: r => r.line },
            { id: 'column', words: true, value: r => r.column },
            { id: 'value', words: true, wraps: true, value: r => r.value ?? '' },
            { id: 'why', words: true, wraps: true, value: r => r.words ?? r.reason },
          ]}
          rows={o.rejected!}
          rowId={r => `${r.line} ${r.column}`}
        />
      )}
      <NamesTold check={o.names} />
      {!o.error && <WordLink href={o.kind === 'ads' ? '/links' : '/reconcile'}>See what it changes</WordLink>}
    </Box>
  )
}
