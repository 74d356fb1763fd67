'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { guessForms } from '@/core/intake/reports/guess'
import { problemsOf, type ReportMapping } from '@/core/intake/reports/mapping'
import type { NameCheck } from '@/server/import/names'
import type { ReportDifference, ReportLook } from '@/server/import/report'
import { useFormats } from '../format'
import { SelectField } from '../parts/Fields'
import { FileButton, takesDroppedFile } from '../parts/FileButton'
import { Page } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { MappingTable } from './MappingTable'
import { NamesTold } from './NamesTold'
import { ReportDays } from './ReportDays'
import { problemWords } from './reportWords'
import { useFileSteps } from './useFileSteps'
import { Working } from './Working'

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
}

/** Networks' reports as they come: say which column is which, see what changes, take them in. */
export function ReportsScreen({
  networks,
  first,
  period,
  asks,
}: {
  networks: Network[]
  first: string
  period: { from: string; to: string }
  /** whether the networks can be asked for their reports */
  asks: boolean
}) {
  const { count, day } = useFormats()
  const [network, setNetwork] = useState(first)
  const [file, setFile] = useState<File | null>(null)
  const [look, setLook] = useState<ReportLook | null>(null)
  const [mapping, setMapping] = useState<ReportMapping | null>(null)
  const [doubts, setDoubts] = useState<ReportLook['doubts']>([])
  const [difference, setDifference] = useState<ReportDifference | null>(null)
  const [taken, setTaken] = useState<Taken | null>(null)
  const { send, busy, setBusy, problem, setProblem, progress, stop } = useFileSteps(
    step => `/api/reports/${step}?network=${encodeURIComponent(network)}`,
  )
  const name = networks.find(n => n.id === network)?.name ?? network

  const forget = () => {
    setLook(null)
    setDifference(null)
    setTaken(null)
    setProblem('')
  }
  async function choose(chosen: File) {
    forget()
    setFile(chosen)
    const seen = await send<ReportLook>('look', chosen, `Reading ${chosen.name}`)
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
    if (guess || change.date_order) setDoubts(guess?.doubts ?? [])
    setDifference(null)
    setTaken(null)
  }
  const problems = look && mapping ? problemsOf(mapping, look.header) : []

  return (
    <Page
      at="/intake/reports"
      drop={takesDroppedFile(file => void choose(file))}
      says={
        look && file
          ? `${file.name}: ${look.saved ? `read as ${name}’s last report was.` : 'this is how it seems to be meant. Correct what is wrong; it is kept for next time.'}`
          : 'Drop a network’s report as it comes, whatever its columns are called. You see what it changes before anything does.'
      }
      actions={
        <>
          <SelectField
            unseen
            label="Network"
            value={network}
            change={chosen => {
              setNetwork(chosen)
              forget()
            }}
            choices={networks.map(n => [n.id, n.name])}
          />
          <FileButton
            label="Report"
            accept=".csv,.tsv,.txt,text/csv"
            disabled={busy !== ''}
            take={chosen => void choose(chosen)}
          >
            Choose its report
          </FileButton>
          {asks && (
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
          <MappingTable look={look} mapping={mapping} doubts={doubts} correct={correct} />
          {problems.map(p => (
            <Text key={JSON.stringify(p)} color="alarm" fontSize="13px">
              {problemWords(p)}
            </Text>
          ))}
          {!taken && (
            <Button
              mt="3"
              disabled={problems.length > 0 || busy !== '' || file === null}
              onClick={async () =>
                setDifference(await send('compare', file!, 'Comparing with what is held', mapping))
              }
            >
              Show what it changes
            </Button>
          )}
        </>
      )}
      {difference && !taken && (
        <ReportDays
          difference={difference}
          name={name}
          take={async () => setTaken(await send('take', file!, 'Taking it in', mapping))}
          busy={busy !== ''}
        />
      )}
      <NamesTold check={taken?.names} />
      {taken && (
        <Text mt="4" role="status">
          {taken.cancelled && 'Cancelled: '}
          {count(taken.days)} {taken.days === 1 ? 'day' : 'days'} of {name} replaced, {count(taken.accepted)}{' '}
          sums in, {count(taken.rejected)} rows rejected. {taken.cancelled && 'Take it in again to go on. '}
          <WordLink href={taken.rejected > 0 ? '/intake/set-aside' : '/weigh'}>
            {taken.rejected > 0 ? 'See what was rejected' : 'See what it changes'}
          </WordLink>
        </Text>
      )}
    </Page>
  )
}
