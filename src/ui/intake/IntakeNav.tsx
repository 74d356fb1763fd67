import { Box, Flex } from '@chakra-ui/react'
import Link from 'next/link'

const pages = [
  { href: '/intake', name: 'Arrivals' },
  { href: '/intake/set-aside', name: 'Set aside' },
  { href: '/intake/routes', name: 'Routes' },
  { href: '/intake/partners', name: 'Partners' },
  { href: '/intake/reports', name: 'Reports' },
  { href: '/intake/import', name: 'Import files' },
] as const

/** The parts of Intake, in one line above each. */
export function IntakeNav({ here }: { here: (typeof pages)[number]['href'] }) {
  return (
    <Flex as="nav" aria-label="Intake" gap="4" fontSize="13px" mb="3">
      {pages.map(page => (
        <Box
          asChild
          key={page.href}
          pb="0.5"
          color={page.href === here ? 'ink' : 'quiet'}
          fontWeight={page.href === here ? 650 : 400}
          borderBottomWidth="2px"
          borderColor={page.href === here ? 'ink' : 'transparent'}
        >
          <Link href={page.href} aria-current={page.href === here ? 'page' : undefined}>
            {page.name}
          </Link>
        </Box>
      ))}
    </Flex>
  )
}
