'use client'
import { Box, Button, Flex, Input, Text, Textarea } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import { ownRequest } from '@/core/shared/ownRequest'
import type { PageFinding } from '@/core/signals/pageCheck'
import { count } from '../format'
import { takesDroppedFile } from '../parts/FileButton'
import { PartNav } from '../parts/PartNav'
import { useNetworkName } from '../shell/NetworkNames'
import { pageFindingWords } from './ruleWords'

interface Checked {
  page: string
  findings: PageFinding[]
}

const placeOf = ({ at }: PageFinding): string =>
  'line' in at ? `line ${at.line}` : 'request' in at ? `request ${at.request + 1}: ${at.address}` : at.page

/** Page check: are the tags on a page as the hand-off says? By its address, its HTML, or a recorded visit. */
export function CheckScreen({ site, wanted }: { site: string; wanted: string[] }) {
  const networkName = useNetworkName()
  const [address, setAddress] = useState(site)
  const [html, setHtml] = useState('')
  const [checked, setChecked] = useState<Checked | null>(null)
  const [problem, setProblem] = useState('')
  const [busy, setBusy] = useState(false)
  const input = useRef<HTMLInputElement>(null)

  async function check(body: Blob | string, kind: 'html' | 'har') {
    setBusy(true)
    setProblem('')
    setChecked(null)
    const query = new URLSearchParams({ page: address.trim(), kind })
    const answer = await fetch(`/api/check-page?${query}`, {
      method: 'POST',
      headers: ownRequest,
      body,
    }).catch(() => null)
    setBusy(false)
    const said = await answer?.json()
    if (!said) setProblem('The application does not answer. Try again.')
    else if (said.error) setProblem(said.error)
    else setChecked(said)
  }
  const take = (file: File) => void check(file, file.name.endsWith('.har') ? 'har' : 'html')
  const errors = checked?.findings.filter(f => f.severity === 'error').length ?? 0
  return (
    <Box px="5" pt="4" pb="8" minHeight="100%" {...takesDroppedFile(take)}>
      <PartNav here="/signals/check" />
      <Text as="h1" fontSize="19px" maxWidth="62rem">
        {checked === null
          ? `Is the page as the hand-off says? Looked for: ${wanted.join(', ')}.`
          : checked.findings.length === 0
            ? `Nothing is wrong on ${checked.page}.`
            : `${count(errors)} ${errors === 1 ? 'error' : 'errors'} and ${count(checked.findings.length - errors)} warnings on ${checked.page}.`}
      </Text>
      <Flex gap="2" mt="3" fontSize="13px" align="center" wrap="wrap">
        <Input
          type="url"
          style={{ width: 420 }}
          aria-label="Address of the page"
          value={address}
          onChange={event => setAddress(event.target.value)}
          onKeyDown={event => event.key === 'Enter' && void check('', 'html')}
        />
        <Button disabled={busy} onClick={() => void check('', 'html')}>
          Fetch and check
        </Button>
        <Button disabled={busy} onClick={() => input.current?.click()}>
          Choose a saved page or recording
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          accept=".html,.htm,.har"
          aria-label="Saved page or recording"
          onChange={event => {
            const [chosen] = event.target.files ?? []
            if (chosen) take(chosen)
            event.target.value = ''
          }}
        />
      </Flex>
      <Box as="details" mt="2" fontSize="13px">
        <summary>Or paste its HTML</summary>
        <Textarea
          aria-label="HTML of the page"
          rows={7}
          style={{ width: '100%', maxWidth: '62rem', height: 'auto', fontFamily: 'monospace', fontSize: 12 }}
          value={html}
          onChange={event => setHtml(event.target.value)}
        />
        <br />
        <Button disabled={busy || html === ''} onClick={() => void check(html, 'html')}>
          Check what is pasted
        </Button>
      </Box>
      <Text aria-live="polite" minHeight="20px" mt="2" fontSize="13px" color={problem ? 'alarm' : 'quiet'}>
        {busy ? 'Looking at it …' : problem}
      </Text>
      {checked && checked.findings.length > 0 && (
        <table className="ledger" style={{ maxWidth: '72rem' }}>
          <thead>
            <tr>
              {['where', 'network', 'what to change', 'code'].map(head => (
                <th key={head} scope="col" style={{ textAlign: 'left' }}>
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {checked.findings.map((finding, i) => (
              <tr key={i}>
                <th
                  scope="row"
                  style={{ maxWidth: 240, overflow: 'hidden', textOverflow: 'ellipsis' }}
                  title={placeOf(finding)}
                >
                  {placeOf(finding)}
                </th>
                <td style={{ textAlign: 'left' }}>
                  {networkName(finding.network)}
                  {finding.event ? `, ${finding.event}` : ''}
                </td>
                <td style={{ textAlign: 'left', whiteSpace: 'normal' }}>
                  {pageFindingWords[finding.code]}
                  {finding.seen ? ` It says ${finding.seen}.` : ''}
                </td>
                <td style={{ textAlign: 'left' }}>
                  <code style={{ fontSize: 12 }}>{finding.code}</code>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Box>
  )
}
