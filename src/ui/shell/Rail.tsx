'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { usePathname, useSearchParams } from 'next/navigation'
import { Opening } from './Opening'
import { fetchesAhead, places, settingsPlace } from './stations'
import { keptQuery } from './useScope'

/** The mark: two unequal sides on one beam. */
function Mark() {
  return (
    <svg width="30" height="22" viewBox="0 0 30 22" role="img" aria-label="Aequant">
      <path d="M15 2v16M9 20h12" stroke="var(--chakra-colors-ink)" strokeWidth="2" fill="none" />
      <rect
        x="2"
        y="7"
        width="10"
        height="5"
        fill="none"
        stroke="var(--chakra-colors-network)"
        strokeWidth="1.6"
      />
      <rect x="18" y="7" width="10" height="5" fill="var(--chakra-colors-shop)" />
    </svg>
  )
}

/** The stations; one with something to look at has a dot, and says on hover what it is. */
export function Rail({ attention }: { attention: Record<string, string> }) {
  const path = usePathname()
  const query = keptQuery(useSearchParams())
  return (
    <Flex
      as="nav"
      aria-label="Stations"
      direction="column"
      width="84px"
      flexShrink={0}
      borderRightWidth="1px"
      borderColor="hairline"
      py="3"
      gap="1"
      align="stretch"
      overflowY="auto"
    >
      <Flex justify="center" mb="3">
        <Link href="/begin" title="What is here, and what would make figures surer">
          <Mark />
        </Link>
      </Flex>
      {places.map(({ path: to, name, key, icon: Icon, does }) => {
        const here = path.startsWith(to)
        return (
          <Box key={to} asChild mt={to === settingsPlace.path ? 'auto' : undefined}>
            <Link
              href={`${to}${query}`}
              aria-current={here ? 'page' : undefined}
              onPointerEnter={fetchesAhead[to]}
              onFocus={fetchesAhead[to]}
              title={attention[to] ?? `${name}: ${does} (${key})`}
            >
              <Flex
                position="relative"
                direction="column"
                align="center"
                py="2"
                gap="0.5"
                fontWeight={here ? 700 : 400}
                borderLeftWidth="3px"
                borderColor={here ? 'ink' : 'transparent'}
                pr="3px"
                _hover={{ bg: 'mark' }}
              >
                <Box position="relative">
                  <Icon size={18} strokeWidth={1.6} aria-hidden />
                  {attention[to] && (
                    <Box
                      position="absolute"
                      top="-3px"
                      right="-6px"
                      boxSize="7px"
                      borderRadius="full"
                      bg="alarm"
                      role="img"
                      aria-label={attention[to]}
                    />
                  )}
                </Box>
                <Text fontSize="12px">{name}</Text>
                <Opening />
              </Flex>
            </Link>
          </Box>
        )
      })}
    </Flex>
  )
}
