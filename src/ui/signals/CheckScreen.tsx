'use client'
import { Button } from '@chakra-ui/react'
import { useState } from 'react'
import { ownRequest } from '@/core/shared/ownRequest'
import type { PageFinding } from '@/core/signals/pageCheck'
import { useFormats } from '../format'
import { LongTextField, TextField } from '../parts/Fields'
import { FileButton, takesDroppedFiles } from '../parts/FileButton'
import { Fold } from '../parts/Fold'
import { Page, Said, Section } from '../parts/Page'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { useSending } from '../parts/useSending'
import { Mono } from '../parts/WordLink'
import { useNetworkName } from '../shell/NetworkNames'
import { pageFindingWords } from './ruleWords'

interface Checked {
  page: string
  findings: PageFinding[]
}

const placeOf = ({ at }: PageFinding): string =>
  'line' in at ? `line ${at.line}` : 'request' in at ? `request ${at.request + 1}: ${at.address}` : at.page

/** Each kind of finding, for whoever looks before there is one. */
const kindColumns: Column<PageFinding['code']>[] = [
  {
    id: 'what',
    heading: 'what is wrong then, and what to change',
    words: true,
    wraps: true,
    value: code => pageFindingWords[code],
  },
  { id: 'code', words: true, value: code => code, cell: code => <Mono>{code}</Mono> },
]

/** Page check: are the tags on a page as the hand-off says? By its address, its HTML, or a recorded visit. */
export function CheckScreen({ site, wanted }: { site: string; wanted: string[] }) {
  const { count } = useFormats()
  const networkName = useNetworkName()
  const [address, setAddress] = useState(site)
  const [html, setHtml] = useState('')
  const [checked, setChecked] = useState<Checked | null>(null)
  const [problem, setProblem] = useState('')
  const [busy, send] = useSending()
  const check = (body: Blob | string, kind: 'html' | 'har') =>
    send(async () => {
      setProblem('')
      setChecked(null)
      const query = new URLSearchParams({ page: address.trim(), kind })
      const answer = await fetch(`/api/check-page?${query}`, {
        method: 'POST',
        headers: ownRequest,
        body,
      }).catch(() => null)
      const said = await answer?.json()
      if (!said) setProblem('The application does not answer. Try again.')
      else if (said.error) setProblem(said.error)
      else setChecked(said)
    })
  const take = (file: File) => check(file, file.name.endsWith('.har') ? 'har' : 'html')
  const errors = checked?.findings.filter(f => f.severity === 'error').length ?? 0
  const columns: Column<PageFinding>[] = [
    { id: 'where', words: true, width: 240, value: placeOf },
    { id: 'network', words: true, value: f => `${networkName(f.network)}${f.event ? `, ${f.event}` : ''}` },
    {
      id: 'what',
      heading: 'what to change',
      words: true,
      wraps: true,
      value: f => `${pageFindingWords[f.code]}${f.seen ? ` It says ${f.seen}.` : ''}`,
    },
    { id: 'code', words: true, value: f => f.code, cell: f => <Mono>{f.code}</Mono> },
  ]
  return (
    <Page
      at="/signals/check"
      drop={takesDroppedFiles(take)}
      live
      says={
        checked === null
          ? `Is the page as the hand-off says? Looked for: ${wanted.join(', ')}.`
          : checked.findings.length === 0
            ? `Nothing is wrong on ${checked.page}.`
            : `${count(errors)} ${errors === 1 ? 'error' : 'errors'} and ${count(checked.findings.length - errors)} warnings on ${checked.page}.`
      }
      actions={
        <>
          <TextField
            unseen
            type="url"
            width="420px"
            label="Address of the page"
            value={address}
            change={setAddress}
            enter={() => check('', 'html')}
          />
          <Button disabled={busy} onClick={() => check('', 'html')}>
            Fetch and check
          </Button>
          <FileButton label="Saved page or recording" accept=".html,.htm,.har" take={take} disabled={busy}>
            Choose a saved page or recording
          </FileButton>
        </>
      }
    >
      <Fold title="Or paste its HTML" maxWidth="62rem">
        <LongTextField unseen mono label="HTML of the page" rows={7} value={html} change={setHtml} />
        <Button disabled={busy || html === ''} onClick={() => check(html, 'html')}>
          Check what is pasted
        </Button>
      </Fold>
      <Said busy={busy && 'Looking at it …'} alarm>
        {problem}
      </Said>
      {checked && checked.findings.length > 0 && (
        <DataTable
          label="What is wrong"
          columns={columns}
          rows={checked.findings}
          rowId={f => `${f.code} ${f.network} ${f.event} ${placeOf(f)} ${f.seen}`}
        />
      )}
      {!checked?.findings.length && (
        <Section title={checked ? 'None of these was found' : 'What is found on a page'}>
          <DataTable
            label="Each kind of finding"
            columns={kindColumns}
            rows={Object.keys(pageFindingWords) as PageFinding['code'][]}
            rowId={code => code}
          />
        </Section>
      )}
    </Page>
  )
}
