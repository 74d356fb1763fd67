'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import { Command } from 'cmdk'
import { Plus, X } from 'lucide-react'
import { useRef, useState } from 'react'
import { emptyOnTest, type NetworkProfile, spell } from '@/core/links/profile'
import { parseTemplate, type Segment, writeTemplate } from '@/core/links/template'
import { allTokens, tokenWords } from './linkWords'

/** A token as people see it: a chip, never braces. */
export function Chip({
  token,
  profile,
  drop,
}: {
  token: string
  profile: NetworkProfile
  drop?: () => void
}) {
  const known = spell(profile.dialect, token) !== null
  return (
    <span className="chip" data-unknown={!known || undefined} title={tokenWords(token, profile)}>
      <span>{tokenWords(token, profile)}</span>
      {drop && (
        <Button variant="ghost" aria-label={`Remove ${tokenWords(token, profile)}`} onClick={drop}>
          <X size={11} />
        </Button>
      )}
    </span>
  )
}

/** A value as people see it: text, and its tokens as chips. */
export function Template({ template, profile }: { template: string; profile: NetworkProfile }) {
  return parseTemplate(template, profile.dialect).map((s, i) =>
    s.kind === 'token' ? (
      <Chip key={`${s.token}${i}`} token={s.token} profile={profile} />
    ) : (
      <span key={`${s.text}${i}`} style={{ overflowWrap: 'anywhere' }}>
        {s.text}
      </span>
    ),
  )
}

/** The token to use where a network cannot supply one: an ID for a name, a name for an ID. */
function insteadOf(token: string, { dialect }: NetworkProfile): string | null {
  const other = token.endsWith('.name') ? token.replace('.name', '.id') : token.replace('.id', '.name')
  return other !== token && spell(dialect, other) !== null ? other : null
}

/** Edits a parameter's value: text and tokens, the tokens picked from a list. */
export function TemplateField({
  label,
  template,
  profile,
  sample,
  change,
  focus,
}: {
  label: string
  template: string
  profile: NetworkProfile
  sample: (token: string) => string
  change: (template: string) => void
  /** whether the field takes the focus when it comes */
  focus?: true
}) {
  const [picking, setPicking] = useState(false)
  /** where the caret was last: the segment and the place in its text */
  const caret = useRef<{ segment: number; at: number } | null>(null)
  const segments = parseTemplate(template, profile.dialect)
  const shown: Segment[] = []
  for (const segment of segments) {
    // Text can stand before, between and after tokens.
    if (segment.kind === 'token' && shown.at(-1)?.kind !== 'literal')
      shown.push({ kind: 'literal', text: '' })
    shown.push(segment)
  }
  if (shown.at(-1)?.kind !== 'literal') shown.push({ kind: 'literal', text: '' })

  const replace = (index: number, text: string) =>
    change(writeTemplate(shown.map((s, i) => (i === index ? { kind: 'literal', text } : s))))
  const insert = (token: string) => {
    const { segment, at } = caret.current ?? { segment: shown.length - 1, at: Number.POSITIVE_INFINITY }
    change(
      writeTemplate(
        shown.flatMap((s, i): Segment[] =>
          i === segment && s.kind === 'literal'
            ? [
                { kind: 'literal', text: s.text.slice(0, at) },
                { kind: 'token', token, known: true },
                { kind: 'literal', text: s.text.slice(at) },
              ]
            : [s],
        ),
      ),
    )
    setPicking(false)
  }
  const noteCaret = (segment: number, field: HTMLInputElement) => {
    caret.current = { segment, at: field.selectionStart ?? field.value.length }
  }
  return (
    <Flex align="center" gap="1" wrap="wrap" flex="1" minWidth="0" position="relative">
      {shown.map((segment, i) =>
        segment.kind === 'token' ? (
          <Chip
            key={i}
            token={segment.token}
            profile={profile}
            drop={() => change(writeTemplate(shown.filter((_, j) => j !== i)))}
          />
        ) : (
          <Input
            key={i}
            aria-label={`${label}, text${shown.length > 1 && i < shown.length - 1 ? ` before ${tokenAfter(shown, i, profile)}` : ''}`}
            autoFocus={focus && i === shown.length - 1}
            style={{
              width: `${Math.max(i === shown.length - 1 ? 10 : 3, segment.text.length + 2)}ch`,
              maxWidth: '100%',
              height: 24,
              fontFamily: 'var(--chakra-fonts-mono)',
              fontSize: 12,
            }}
            value={segment.text}
            onChange={e => {
              noteCaret(i, e.target)
              replace(i, e.target.value)
            }}
            onSelect={e => noteCaret(i, e.currentTarget)}
            onKeyDown={e => {
              if (e.key !== '{') return
              e.preventDefault()
              setPicking(true)
            }}
          />
        ),
      )}
      <Button
        aria-label={`Add a token to ${label}`}
        title="Add a token: a value that the network fills in  {"
        aria-expanded={picking}
        height="24px"
        padding="0 4px"
        onClick={() => setPicking(!picking)}
      >
        <Plus size={12} />
      </Button>
      {picking && (
        <TokenPicker profile={profile} sample={sample} pick={insert} close={() => setPicking(false)} />
      )}
    </Flex>
  )
}

function tokenAfter(shown: readonly Segment[], index: number, profile: NetworkProfile): string {
  const next = shown[index + 1]
  return next?.kind === 'token' ? tokenWords(next.token, profile) : ''
}

/** All tokens with what a click would carry; what this network cannot supply says what can stand for it. */
function TokenPicker({
  profile,
  sample,
  pick,
  close,
}: {
  profile: NetworkProfile
  sample: (token: string) => string
  pick: (token: string) => void
  close: () => void
}) {
  return (
    <Box
      position="absolute"
      top="28px"
      left="0"
      zIndex="10"
      width="400px"
      bg="sheet"
      borderWidth="1px"
      borderColor="ink"
      onKeyDown={event => {
        if (event.key !== 'Escape') return
        event.stopPropagation()
        close()
      }}
    >
      <Command label="Tokens" className="tokens">
        <Command.Input
          autoFocus
          placeholder="Which value?"
          style={{ width: '100%', height: 28, padding: '0 6px', background: 'transparent' }}
        />
        <Command.List style={{ maxHeight: 300, overflowY: 'auto' }}>
          <Command.Empty>No such value.</Command.Empty>
          {allTokens(profile).map(token => {
            const supplied = spell(profile.dialect, token) !== null
            const instead = supplied ? null : insteadOf(token, profile)
            const words = tokenWords(token, profile)
            return (
              <Command.Item
                key={token}
                value={`${words} ${token}`}
                disabled={!supplied && instead === null}
                onSelect={() => pick(instead ?? token)}
              >
                <Flex justify="space-between" gap="3">
                  <Text as="span" color={supplied ? 'ink' : 'quiet'} whiteSpace="nowrap">
                    {words}
                  </Text>
                  <Text as="span" color="quiet" fontSize="12px" textAlign="right">
                    {supplied
                      ? `${sample(token) || '—'}${emptyOnTest.has(token) ? ' · empty on a test click' : ''}`
                      : `${profile.name} has none: ${instead ? `use ${tokenWords(instead, profile)}` : 'write fixed text'}`}
                  </Text>
                </Flex>
              </Command.Item>
            )
          })}
        </Command.List>
      </Command>
    </Box>
  )
}
