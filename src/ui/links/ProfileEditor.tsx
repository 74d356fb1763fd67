'use client'
import { Box, Button, Flex, Text, Textarea } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { type NetworkProfile, profileSchema } from '@/core/links/profile'
import type { FieldProblem } from '@/core/signals/templateProblems'
import { useSending } from '../parts/useSending'
import { ProfileExample } from './ProfileExample'
import { ProfileFields } from './ProfileFields'
import { asRecord, asText, type ProfileDraft } from './profileDraft'

export type SaveProfile = (profile: unknown, isNew: boolean) => Promise<FieldProblem[]>

/** Edits one profile, in fields or as JSON; an example beside it shows what each edit does. */
export function ProfileEditor({
  from,
  isNew,
  others,
  save,
  close,
}: {
  from: ProfileDraft
  isNew: boolean
  others: readonly NetworkProfile[]
  save: SaveProfile
  close: () => void
}) {
  const [draft, setDraft] = useState<ProfileDraft>(from)
  const [json, setJson] = useState<string | null>(null)
  const [jsonProblem, setJsonProblem] = useState('')
  const [refused, setRefused] = useState<FieldProblem[]>([])
  const [touched, setTouched] = useState(!isNew)
  const [said, setSaid] = useState('')
  const [busy, send] = useSending()
  const read = useMemo(() => profileSchema.safeParse(draft), [draft])
  const problems = useMemo(() => {
    const found = new Map<string, string>()
    if (touched && !read.success)
      for (const issue of read.error.issues) found.set(issue.path.join('.'), issue.message)
    for (const { path, message } of refused) found.set(path, message)
    return found
  }, [read, refused, touched])
  const change = (part: ProfileDraft) => {
    setDraft({ ...draft, ...part })
    setRefused([])
    setSaid('')
  }
  const keep = () =>
    send(async () => {
      setTouched(true)
      if (!read.success) return setSaid('Not kept: see what is marked.')
      const wrong = await save(read.data, isNew)
      setRefused(wrong)
      if (wrong.length > 0) setSaid('Not kept: see what is marked.')
      else close()
    })
  return (
    <>
      <Flex justify="space-between" align="baseline" gap="3">
        <Text as="h1" fontSize="19px">
          {isNew ? 'A network of your own' : `How ${asText(draft.name) || 'it'} writes links`}
        </Text>
        <Flex gap="2" fontSize="13px" align="center">
          <Text color={problems.size > 0 ? 'alarm' : 'quiet'} role="status">
            {said}
          </Text>
          <Button onClick={() => setJson(json === null ? JSON.stringify(draft, null, 2) : null)}>
            {json === null ? 'As JSON' : 'As fields'}
          </Button>
          <Button onClick={keep} disabled={busy || jsonProblem !== ''}>
            {busy ? 'Keeping …' : 'Keep'}
          </Button>
          <Button onClick={close}>Leave</Button>
        </Flex>
      </Flex>
      <Flex gap="6" mt="3" fontSize="13px" align="start">
        {json !== null ? (
          <Box flex="1">
            <Textarea
              aria-label="The profile as JSON"
              rows={32}
              spellCheck={false}
              height="auto"
              fontFamily="mono"
              fontSize="12px"
              value={json}
              onChange={event => {
                setJson(event.target.value)
                try {
                  const written: unknown = JSON.parse(event.target.value)
                  setDraft(asRecord(written))
                  setTouched(true)
                  setJsonProblem('')
                } catch (error) {
                  setJsonProblem(error instanceof Error ? error.message : 'That is no JSON.')
                }
              }}
            />
            <Text color="alarm" role="alert" whiteSpace="pre-wrap">
              {jsonProblem || [...problems].map(([path, message]) => `${path}: ${message}`).join('\n')}
            </Text>
          </Box>
        ) : (
          <ProfileFields
            draft={draft}
            isNew={isNew}
            subIdTokens={read.success ? read.data.sub_ids : undefined}
            problems={problems}
            change={change}
          />
        )}
        <ProfileExample profile={read.success ? read.data : null} others={others} />
      </Flex>
    </>
  )
}
