'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { levelsOf, type NetworkProfile, spellings } from '@/core/links/profile'
import { PartNav } from '../parts/PartNav'
import { levelName } from './linkWords'
import { ProfileEditor, type SaveProfile } from './ProfileEditor'
import type { ProfileDraft } from './profileDraft'

const blank: ProfileDraft = {
  id: '',
  name: '',
  dialect: { open: '{', close: '}', tokens: {} },
  fields: [{ id: 'destination', holds: 'address' }],
}

/** Profiles: every network's data sheet, to be edited, copied, made from nothing, or carried as JSON. */
export function ProfilesScreen({
  profiles,
  save,
}: {
  profiles: readonly NetworkProfile[]
  save: SaveProfile
}) {
  const [draft, setDraft] = useState<{ from: ProfileDraft; isNew: boolean } | null>(null)
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
  return (
    <Flex height="100%">
      <Box px="5" pt="4" pb="8" flex="1" minWidth="0" overflowY="auto">
        <PartNav here="/links/profiles" />
        {draft ? (
          <ProfileEditor
            key={JSON.stringify(draft.from)}
            from={draft.from}
            isNew={draft.isNew}
            others={profiles.filter(p => p.id !== draft.from.id)}
            save={save}
            close={() => setDraft(null)}
          />
        ) : (
          <>
            <Text as="h1" fontSize="19px">
              {profiles.length} networks are known. Each has a data sheet that says how it writes dynamic
              values and where they go.
            </Text>
            <Flex gap="2" mt="3" fontSize="13px" align="center">
              <Button onClick={() => setDraft({ from: blank, isNew: true })}>New network</Button>
              <label className="field press" style={{ display: 'inline-flex', alignItems: 'center' }}>
                Import JSON
                <input
                  type="file"
                  accept=".json,application/json"
                  className="unseen"
                  onChange={event => {
                    void readFile(event.target.files?.[0])
                    event.target.value = ''
                  }}
                />
              </label>
              <a href="/api/profile-schema.json" style={{ textDecoration: 'underline' }}>
                its JSON Schema
              </a>
              <Text color="alarm" role="status">
                {problem}
              </Text>
            </Flex>
            <Box as="table" className="ledger" mt="3" maxWidth="70rem">
              <thead>
                <tr>
                  <th>network</th>
                  <th style={{ textAlign: 'left' }}>levels</th>
                  <th style={{ textAlign: 'left' }}>writes a value as</th>
                  <th>tokens</th>
                  <th style={{ textAlign: 'left' }}>fields</th>
                  <th>click window</th>
                  <th>edit or copy</th>
                </tr>
              </thead>
              <tbody>
                {profiles.map(profile => (
                  <tr key={profile.id}>
                    <td>
                      <Button
                        variant="plain"
                        style={{ fontWeight: 650 }}
                        onClick={() => setDraft({ from: profile, isNew: false })}
                      >
                        {profile.name}
                      </Button>
                    </td>
                    <td style={{ textAlign: 'left' }}>
                      {levelsOf(profile)
                        .filter(level => level !== 'account')
                        .map(level => levelName(profile, level))
                        .join(' › ')}
                    </td>
                    <td style={{ textAlign: 'left', fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }}>
                      {spellings(profile.dialect)[0]?.[0] ?? 'static text only'}
                    </td>
                    <td>{Object.keys(profile.dialect.tokens).length}</td>
                    <td style={{ textAlign: 'left' }}>
                      {profile.fields.map(f => f.id.replaceAll('_', ' ')).join(' + ')}
                    </td>
                    <td>{profile.click_window_days} days</td>
                    <td>
                      <Button
                        variant="plain"
                        aria-label={`Make one like ${profile.name}`}
                        onClick={() =>
                          setDraft({
                            from: { ...profile, id: '', name: `${profile.name} (like it)` },
                            isNew: true,
                          })
                        }
                      >
                        one like it
                      </Button>{' '}
                      <a
                        href={`/api/profiles/${profile.id}`}
                        download
                        aria-label={`${profile.name} as JSON`}
                        style={{ textDecoration: 'underline' }}
                      >
                        JSON
                      </a>
                    </td>
                  </tr>
                ))}
              </tbody>
            </Box>
          </>
        )}
      </Box>
    </Flex>
  )
}
