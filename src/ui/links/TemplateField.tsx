'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import { Command } from 'cmdk'
import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { type NetworkProfile, neutralTokens, spell } from '@/core/links/profile'
import { parseTemplate, type Segment } from '@/core/links/template'

const write = (segments: readonly Segment[]) =>
  segments.map(s => (s.kind === 'literal' ? s.text : `{${s.token}}`)).join('')

/** A token as people see it: a chip, never braces. */
export function Chip({ token, known = true, drop }: { token: string; known?: boolean; drop?: () => void }) {
  return (
    <Flex
      as="span"
      display="inline-flex"
      align="center"
      gap="1"
      px="1.5"
      height="20px"
      borderWidth="1px"
      borderColor={known ? 'ink' : 'alarm'}
      color={known ? 'ink' : 'alarm'}
      bg="mark"
      fontSize="12px"
      whiteSpace="nowrap"
    >
      {neutralTokens[token as keyof typeof neutralTokens] ?? token}
      {drop && (
        <Box as="button" aria-label={`Remove ${token}`} cursor="pointer" onClick={drop}>
          <X size={11} />
        </Box>
      )}
    </Flex>
  )
}

/** Edits a parameter's value: text and tokens, the tokens picked from a list. */
export function TemplateField({
  label,
  template,
  profile,
  sample,
  change,
}: {
  label: string
  template: string
  profile: NetworkProfile
  sample: (token: string) => string
  change: (template: string) => void
}) {
  const [picking, setPicking] = useState(false)
  const segments = parseTemplate(template, profile.dialect)
  const withTail: Segment[] =
    segments.at(-1)?.kind === 'literal' ? segments : [...segments, { kind: 'literal', text: '' }]
  const replace = (index: number, text: string) =>
    change(write(withTail.map((s, i) => (i === index ? { kind: 'literal', text } : s))))
  return (
    <Flex align="center" gap="1" wrap="wrap" flex="1" minWidth="0" position="relative">
      {withTail.map((segment, i) =>
        segment.kind === 'token' ? (
          <Chip
            key={i}
            token={segment.token}
            known={spell(profile.dialect, segment.token) !== null}
            drop={() => change(write(withTail.filter((_, j) => j !== i)))}
          />
        ) : (
          <input
            key={i}
            aria-label={`${label}, text`}
            className="field"
            style={{
              width: `${Math.max(4, segment.text.length + 2)}ch`,
              height: 24,
              fontFamily: 'var(--chakra-fonts-mono)',
              fontSize: 12,
            }}
            value={segment.text}
            onChange={e => replace(i, e.target.value)}
          />
        ),
      )}
      <Box
        as="button"
        aria-label={`Add a token to ${label}`}
        aria-expanded={picking}
        cursor="pointer"
        px="1"
        height="22px"
        borderWidth="1px"
        borderColor="hairline"
        onClick={() => setPicking(!picking)}
      >
        <Plus size={12} />
      </Box>
      {picking && (
        <Box
          position="absolute"
          top="28px"
          right="0"
          zIndex="10"
          width="330px"
          bg="sheet"
          borderWidth="1px"
          borderColor="ink"
        >
          <Command label="Tokens" onKeyDown={e => e.key === 'Escape' && setPicking(false)} className="tokens">
            <Command.Input
              autoFocus
              placeholder="Which value?"
              className="field"
              style={{ width: '100%', border: 0 }}
            />
            <Command.List>
              <Command.Empty>No such value.</Command.Empty>
              {Object.entries(neutralTokens).map(([token, words]) => {
                const spelled = spell(profile.dialect, token)
                return (
                  <Command.Item
                    key={token}
                    value={`${words} ${token}`}
                    disabled={spelled === null}
                    onSelect={() => {
                      change(`${template}{${token}}`)
                      setPicking(false)
                    }}
                  >
                    <Flex justify="space-between" gap="2">
                      <span>{words}</span>
                      <Text as="span" color="quiet" fontSize="12px" truncate>
                        {spelled === null ? `${profile.name} cannot supply it` : sample(token)}
                      </Text>
                    </Flex>
                  </Command.Item>
                )
              })}
            </Command.List>
          </Command>
        </Box>
      )}
    </Flex>
  )
}
