'use client'
import { Box, Flex } from '@chakra-ui/react'
import Link from 'next/link'
import { useSearchParams } from 'next/navigation'
import { Opening } from '../shell/Opening'
import { partsOf, places } from '../shell/stations'
import { keptQuery } from '../shell/useScope'

/** The parts of a station, in one line above each. */
export function PartNav({ here }: { here: string }) {
  const station = places.find(s => here.startsWith(s.path))
  const query = keptQuery(useSearchParams())
  return (
    <Flex as="nav" aria-label={station?.name} gap="4" fontSize="13px" mb="3" className="no-print">
      {partsOf[station?.path ?? '']?.map(({ href, name }) => (
        <Box
          asChild
          key={href}
          position="relative"
          pb="0.5"
          color={href === here ? 'ink' : 'quiet'}
          fontWeight={href === here ? 650 : 400}
          borderBottomWidth="2px"
          borderColor={href === here ? 'ink' : 'transparent'}
        >
          {/* Fetched when it is asked for: six parts ahead of time would hold up the one that is opened. */}
          <Link href={`${href}${query}`} prefetch={false} aria-current={href === here ? 'page' : undefined}>
            {name}
            <Opening />
          </Link>
        </Box>
      ))}
    </Flex>
  )
}
