'use client'
import { Button, Flex, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import useSWRImmutable from 'swr/immutable'
import { ownRequest } from '@/core/shared/ownRequest'
import type { FileDifference, FilePart, WorkspaceFile } from '@/server/workspaceFile'
import { useFormats } from '../format'
import { Note } from '../parts/Page'
import { SidePanel } from '../parts/SidePanel'
import { DataTable } from '../parts/table/DataTable'
import { undoable } from '../parts/undo'

const partWords: Record<FilePart, string> = {
  networks: 'networks’ data sheets',
  plans: 'tag plans',
  results: 'results',
  slots: 'networks’ names for results',
  rules: 'rules of the tag',
  journeys: 'journeys',
  naming: 'naming rules',
  mappings: 'columns of reports',
}

async function post<Answer>(step: string, body: string): Promise<Answer> {
  const answer = await fetch(`/api/workspace/${step}`, { method: 'POST', body, headers: ownRequest })
  const said = await answer.json().catch(() => null)
  if (!answer.ok) throw new Error(said?.error ?? `The server answered ${answer.status}. Nothing has changed.`)
  return said
}

/** What another workspace has settled: what it changes here, and taking it in. */
export function WorkspaceFilePanel({ name, text, close }: { name: string; text: string; close: () => void }) {
  const { count } = useFormats()
  const router = useRouter()
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState('')
  const { data, error } = useSWRImmutable<FileDifference, Error>(['workspace file', text], () =>
    post('compare', text),
  )
  const take = async () => {
    setBusy(true)
    try {
      const { before } = await post<{ before: WorkspaceFile }>('take', text)
      undoable(`${name} is taken in.`, () =>
        post('take?exact=yes', JSON.stringify(before)).then(() => router.refresh()),
      )
      router.refresh()
      close()
    } catch (wrong) {
      setProblem(wrong instanceof Error ? wrong.message : String(wrong))
    }
    setBusy(false)
  }
  const said = (value: unknown) => (value === undefined ? '—' : JSON.stringify(value))
  const wrong = problem || error?.message
  return (
    <SidePanel title={`What ${name} changes`} close={close} width={460}>
      {wrong && <Note alarm>{wrong}</Note>}
      {data && (
        <>
          {data.name && (
            <Text mt="2">
              The workspace’s name: {data.name.before} → {data.name.after}
            </Text>
          )}
          <DataTable
            label="What it changes"
            tools={false}
            columns={[
              { id: 'of', heading: 'of', words: true, value: (p: FilePart) => partWords[p] },
              { id: 'fresh', heading: 'new', value: (p: FilePart) => data.parts[p].fresh },
              { id: 'changed', value: (p: FilePart) => data.parts[p].changed },
              { id: 'same', heading: 'as they are', value: (p: FilePart) => data.parts[p].same },
              {
                id: 'which',
                words: true,
                wraps: true,
                value: (p: FilePart) => data.parts[p].names.join(', '),
              },
            ]}
            rows={Object.keys(partWords) as FilePart[]}
            rowId={p => p}
          />
          {data.settings.length > 0 && (
            <DataTable
              label="Settings that change"
              tools={false}
              columns={[
                { id: 'setting', words: true, value: s => s.name.replaceAll('_', ' ') },
                { id: 'before', heading: 'as it is', words: true, wraps: true, value: s => said(s.before) },
                {
                  id: 'after',
                  heading: 'as it would be',
                  words: true,
                  wraps: true,
                  value: s => said(s.after),
                },
              ]}
              rows={data.settings}
              rowId={s => s.name}
            />
          )}
          <Note>
            {count(Object.values(data.parts).reduce((sum, p) => sum + p.fresh + p.changed, 0))} things are
            added or replaced; what the file does not name stays.
          </Note>
          <Flex gap="2" mt="3">
            <Button variant="solid" disabled={busy} onClick={() => void take()}>
              Take it in
            </Button>
          </Flex>
        </>
      )}
    </SidePanel>
  )
}
