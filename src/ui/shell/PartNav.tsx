'use client'
import { Box, Flex } from '@chakra-ui/react'
import Link from 'next/link'
import { useSearchParams } from 'next/navigation'
import { keptQuery } from './useScope'

export interface Part {
  href: string
  name: string
}

/** The parts of a station, in one line above each. */
export function PartNav({ station, parts, here }: { station: string; parts: readonly Part[]; here: string }) {
  const query = keptQuery(useSearchParams())
  return (
    <Flex as="nav" aria-label={station} gap="4" fontSize="13px" mb="3" className="no-print">
      {parts.map(({ href, name }) => (
        <Box
          asChild
          key={href}
          pb="0.5"
          color={href === here ? 'ink' : 'quiet'}
          fontWeight={href === here ? 650 : 400}
          borderBottomWidth="2px"
          borderColor={href === here ? 'ink' : 'transparent'}
        >
          <Link href={`${href}${query}`} aria-current={href === here ? 'page' : undefined}>
            {name}
          </Link>
        </Box>
      ))}
    </Flex>
  )
}
