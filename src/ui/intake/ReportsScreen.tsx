'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { FOUND_OUT, type HowRead, type ReadAs } from '@/core/intake/readAs'
import { guessForms } from '@/core/intake/reports/guess'
import { problemsOf, type ReportMapping } from '@/core/intake/reports/mapping'
import type { NameCheck } from '@/server/import/names'
import type { ReportDifference, ReportLook } from '@/server/import/report'
import { useFormats } from '../format'
import { type BeginNetwork, StartNetwork } from '../networks/StartNetwork'
import { SelectField } from '../parts/Fields'
import { FileButton, takesDroppedFiles } from '../parts/FileButton'
import { Page } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { MappingTable } from './MappingTable'
import { type GiveRates, MissingRates } from './MissingRates'
import { NamesTold } from './NamesTold'
import { NextFile } from './NextFile'
import { offerUndo, type UndoImport } from './offerUndo'
import { ReportDays } from './ReportDays'
import { problemWords } from './reportWords'
import { useFileSteps } from './useFileSteps'
import { Working } from './Working'
import { useComing, wait } from './waitingFiles'
import { whereTo } from './whereTo'

interface Network {
  id: string
  name: string
}
interface Taken {
  names: NameCheck
  accepted: number
  days: number
  rejected: number
  cancelled: boolean
  batch: string | null
}

/** Networks' reports as they come: say which column is which, see what changes, take them in. */
export function ReportsScreen({
  networks,
  first,
  period,
  practised,
  begin,
  giveRates,
  undo,
}: {
  networks: Network[]
  /** the ID of the network that is asked about first; empty where there is none */
  first: string
  period: { from: string; to: string }
  /** networks that can be asked for their reports */
  practised: readonly string[]
  begin: BeginNetwork
  giveRates: GiveRates
  undo: UndoImport
}) {
  const { count, day, currency } = useFormats()
  const [network, setNetwork] = useState(first)
  const [file, setFile] = useState<File | null>(null)
  const [look, setLook] = useState<(ReportLook & { how: HowRead }) | null>(null)
  const [asked, setAsked] = useState(FOUND_OUT)
  const [mapping, setMapping] = useState<ReportMapping | null>(null)
  const [doubts, setDoubts] = useState<ReportLook['doubts']>([])
  const [difference, setDifference] = useState<ReportDifference | null>(null)
  const [taken, setTaken] = useState<Taken | null>(null)
  const { send, busy, setBusy, problem, setProblem, progress, stop } = useFileSteps(
    step => `/api/reports/${step}?network=${encodeURIComponent(network)}`,
  )
  const [beginning, setBeginning] = useState(false)
  const [isSure, setIsSure] = useState(false)
  const nameOf = (id: string) => networks.find(n => n.id === id)?.name ?? id
  const name = nameOf(network)
  const other = look?.seemsOf && !isSure ? look.seemsOf : null

  const forget = () => {
    setLook(null)
    setDifference(null)
    setTaken(null)
    setProblem('')
  }
  const [ready, setReady] = useState(true)
  useComing('report', ready, ({ file: coming, place }) => {
    setReady(false)
    forget()
    setFile(coming)
    const known = place.to === 'report' ? place.network : null
    if (known) setNetwork(known)
    else setBeginning(true)
  })
  // A file is looked at once it is known whose report it is.
  const waits = file !== null && look === null && network !== '' && !beginning && !problem
  useEffect(() => {
    if (waits) void choose(file)
    // The function is that of the drawing in which the network is known.
  }, [waits, file, network])
  const chooseAll = (first: File, more: File[]) => {
    wait(more.map(one => ({ file: one, place: { to: 'report', network: null } })))
    setReady(false)
    void choose(first)
  }
  async function choose(chosen: File, as: ReadAs = FOUND_OUT) {
    forget()
    setFile(chosen)
    setIsSure(false)
    if (network === '') {
      const place = await whereTo(chosen)
      if (place?.to === 'report' && place.network) setNetwork(place.network)
      else if (networks.length === 0) setBeginning(true)
      else setProblem(`Choose above whose report ${chosen.name} is.`)
      return
    }
    const seen = await send<NonNullable<typeof look>>('look', chosen, `Reading ${chosen.name}`, null, as)
    setAsked(as)
    setLook(seen)
    setMapping(seen?.mapping ?? null)
    setDoubts(seen?.doubts ?? [])
  }
  async function pull() {
    setBusy(`Asking ${name}`)
    const answer = await fetch(`/api/reports/pull?${new URLSearchParams({ network, ...period })}`).catch(
      () => null,
    )
    setBusy('')
    if (answer?.ok)
      return choose(new File([await answer.blob()], `${network} ${period.from} to ${period.to}.csv`))
    forget()
    setProblem(answer ? (await answer.json()).error : 'The application does not answer. Try again.')
  }
  const correct = (change: Partial<ReportMapping>) => {
    if (!look || !mapping) return
    // Another column may write days and amounts in another way.
    const moved = (['date', 'spend', 'value'] as const).some(
      field => change.columns && change.columns[field] !== mapping.columns[field],
    )
    const guess = moved && change.columns ? guessForms(look, change.columns, mapping.currency) : null
    setMapping({ ...mapping, ...guess?.forms, ...change })
    setDoubts(guess?.doubts ?? doubts.filter(doubt => !(doubt in change)))
    setDifference(null)
    setTaken(null)
  }
  const problems = look && mapping ? problemsOf(mapping, look.header) : []
  const compare = async () =>
    setDifference(await send('compare', file!, 'Comparing with what is held', mapping, asked))

  async function take() {
    const outcome = await send<Taken>('take', file!, `Importing ${file!.name}`, mapping, asked)
    setTaken(outcome)
    offerUndo(outcome?.batch, file!.name, undo, () => setTaken(null))
  }

  return (
    <Page
      at="/intake/reports"
      drop={takesDroppedFiles(chooseAll)}
      says={
        look && file
          ? `${file.name}: ${look.saved ? `read as ${name}’s last report was.` : 'this is how it seems to be meant. Correct what is wrong; it is kept for next time.'}`
          : 'Drop a network’s report as it comes, whatever its columns are called. You see what it changes before anything does.'
      }
      beside={
        beginning && (
          <StartNetwork
            begin={begin}
            made={id => {
              setNetwork(id)
              setBeginning(false)
            }}
            close={() => setBeginning(false)}
          />
        )
      }
      actions={
        <>
          <SelectField
            unseen
            label="Network"
            value={network}
            change={chosen => {
              forget()
              // A file that waits for its network is looked at once it is chosen.
              if (network !== '') setFile(null)
              if (chosen === '+') setBeginning(true)
              else setNetwork(chosen)
            }}
            choices={[
              ...(network === '' ? [['', 'whose report is it?'] as const] : []),
              ...networks.map(n => [n.id, n.name] as const),
              ['+', 'a network that is not here'] as const,
            ]}
          />
          <FileButton
            label="Report"
            accept=".csv,.tsv,.txt,.xlsx,.json,.jsonl,text/csv"
            disabled={busy !== ''}
            take={chooseAll}
          >
            Choose its report
          </FileButton>
          {practised.includes(network) && (
            <Button disabled={busy !== ''} onClick={() => void pull()}>
              Ask {name} for {day(period.from)} – {day(period.to)}
            </Button>
          )}
        </>
      }
    >
      <Box minHeight="30px" mt="2">
        {busy && <Working what={busy} progress={progress} stop={stop} />}
        {problem && (
          <Text color="alarm" role="alert">
            {problem}
          </Text>
        )}
      </Box>
      {look && mapping && (
        <>
          <MappingTable
            look={look}
            mapping={mapping}
            doubts={doubts}
            correct={correct}
            readAs={change => file && void choose(file, { ...asked, ...change })}
          />
          {problems.map(p => (
            <Text key={JSON.stringify(p)} color="alarm" fontSize="13px">
              {problemWords(p)}
            </Text>
          ))}
          {other && (
            <Box role="alert" color="alarm" fontSize="13px" mt="2">
              This looks like {nameOf(other)}’s report: it names campaigns or columns of {nameOf(other)}, and
              none of {name}.{' '}
              <Button
                onClick={() => {
                  forget()
                  setNetwork(other)
                }}
              >
                Import it as {nameOf(other)}’s
              </Button>{' '}
              <Button onClick={() => setIsSure(true)}>It is {name}’s</Button>
            </Box>
          )}
          {!taken && (
            <Button
              mt="3"
              disabled={problems.length > 0 || busy !== '' || file === null || other !== null}
              onClick={() => void compare()}
            >
              Show what it changes
            </Button>
          )}
        </>
      )}
      {difference && !taken && (
        <MissingRates
          missing={difference.withoutRate}
          quote={currency}
          give={giveRates}
          given={() => void compare()}
        />
      )}
      {difference && !taken && (
        <ReportDays difference={difference} name={name} take={take} busy={busy !== ''} />
      )}
      <NamesTold check={taken?.names} />
      {taken && (
        <Text mt="4" role="status">
          {taken.cancelled && 'Cancelled: '}
          {count(taken.days)} {taken.days === 1 ? 'day' : 'days'} of {name} replaced, {count(taken.accepted)}{' '}
          sums imported, {count(taken.rejected)} rows rejected.{' '}
          {taken.cancelled && 'Import it again to go on. '}
          <WordLink href={taken.rejected > 0 ? '/intake/set-aside' : '/weigh'}>
            {taken.rejected > 0 ? 'See what was rejected' : 'See what it changes'}
          </WordLink>
        </Text>
      )}
      <NextFile go={() => setReady(true)} />
    </Page>
  )
}
