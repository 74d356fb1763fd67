'use client'
import { Box, Button, Link, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { levelsOf, type NetworkProfile, spellings } from '@/core/links/profile'
import { type BeginNetwork, StartNetwork } from '../networks/StartNetwork'
import { FileButton } from '../parts/FileButton'
import { Page } from '../parts/Page'
import { PartNav } from '../parts/PartNav'
import type { Column } from '../parts/table/columns'
import { DataTable } from '../parts/table/DataTable'
import { Mono } from '../parts/WordLink'
import { levelName } from './linkWords'
import { ProfileEditor, type SaveProfile } from './ProfileEditor'
import type { ProfileDraft } from './profileDraft'

/** Profiles: every network's data sheet, to be edited, copied, made from nothing, or carried as JSON. */
export function ProfilesScreen({
  profiles,
  opened,
  save,
  begin,
}: {
  profiles: readonly NetworkProfile[]
  /** the ID of the one that the address names */
  opened: string | null
  save: SaveProfile
  begin: BeginNetwork
}) {
  const named = profiles.find(p => p.id === opened)
  const [draft, setDraft] = useState<{ from: ProfileDraft; isNew: boolean } | null>(
    named ? { from: named, isNew: false } : null,
  )
  const [beginning, setBeginning] = useState(false)
  const [made, setMade] = useState<string | null>(null)
  const begun = profiles.find(p => p.id === made)
  if (begun) {
    setMade(null)
    setDraft({ from: begun, isNew: false })
  }
  const [problem, setProblem] = useState('')
  const readFile = async (file: File | undefined) => {
    if (!file) return
    setProblem('')
    try {
      const read: unknown = JSON.parse(await file.text())
      if (typeof read !== 'object' || read === null || Array.isArray(read))
        throw new Error('it holds no profile')
      const from = read as ProfileDraft
      setDraft({ from, isNew: !profiles.some(p => p.id === from.id) })
    } catch (error) {
      setProblem(
        `${file.name} was not read: ${error instanceof Error ? error.message : error}. Nothing has changed.`,
      )
    }
  }
  if (draft)
    return (
      <Box px="5" pt="4" pb="8">
        <PartNav here="/links/profiles" />
        <ProfileEditor
          key={JSON.stringify(draft.from)}
          from={draft.from}
          isNew={draft.isNew}
          others={profiles.filter(p => p.id !== draft.from.id)}
          save={save}
          close={() => setDraft(null)}
        />
      </Box>
    )
  const columns: Column<NetworkProfile>[] = [
    {
      id: 'network',
      words: true,
      value: p => p.name,
      cell: p => (
        <Button
          variant="plain"
          fontWeight="650"
          color="ink"
          onClick={() => setDraft({ from: p, isNew: false })}
        >
          {p.name}
        </Button>
      ),
    },
    {
      id: 'levels',
      words: true,
      value: p =>
        levelsOf(p)
          .filter(level => level !== 'account')
          .map(level => levelName(p, level))
          .join(' › '),
    },
    {
      id: 'value',
      heading: 'writes a value as',
      words: true,
      value: p => spellings(p.dialect)[0]?.[0] ?? 'static text only',
      cell: p => <Mono>{spellings(p.dialect)[0]?.[0] ?? 'static text only'}</Mono>,
    },
    { id: 'tokens', value: p => Object.keys(p.dialect.tokens).length },
    { id: 'fields', words: true, value: p => p.fields.map(f => f.id.replaceAll('_', ' ')).join(' + ') },
    {
      id: 'window',
      heading: 'click window',
      value: p => p.click_window_days,
      cell: p => `${p.click_window_days} days`,
    },
    {
      id: 'copy',
      heading: 'edit or copy',
      value: () => null,
      cell: p => (
        <>
          <Button
            variant="plain"
            aria-label={`Make one like ${p.name}`}
            onClick={() => setDraft({ from: { ...p, id: '', name: `${p.name} (like it)` }, isNew: true })}
          >
            one like it
          </Button>{' '}
          <Link
            href={`/api/profiles/${p.id}`}
            download
            aria-label={`${p.name} as JSON`}
            textDecoration="underline"
            color="inherit"
          >
            JSON
          </Link>
        </>
      ),
    },
  ]
  return (
    <Page
      at="/links/profiles"
      says={`${profiles.length} networks are known. Each has a data sheet that says how it writes dynamic values and where they go.`}
      beside={beginning && <StartNetwork begin={begin} made={setMade} close={() => setBeginning(false)} />}
      actions={
        <>
          <Button onClick={() => setBeginning(true)}>New network</Button>
          <FileButton label="Import JSON" accept=".json,application/json" take={file => void readFile(file)}>
            Import JSON
          </FileButton>
          <Link href="/api/profile-schema.json" textDecoration="underline" color="inherit">
            its JSON Schema
          </Link>
          <Text color="alarm" role="status">
            {problem}
          </Text>
        </>
      }
    >
      <DataTable
        label="Profiles"
        columns={columns}
        rows={profiles}
        rowId={p => p.id}
        enter={p => setDraft({ from: p, isNew: false })}
        main
      />
    </Page>
  )
}
