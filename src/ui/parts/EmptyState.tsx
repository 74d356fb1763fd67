import { Button, Text } from '@chakra-ui/react'
import Link from 'next/link'
import type { ReactNode } from 'react'

/** What there will be, with an example, and the one next step. */
export function EmptyState({
  children,
  next,
}: {
  children: ReactNode
  next?: { words: string; href: string } | { words: string; act: () => void }
}) {
  return (
    <>
      <Text color="quiet" fontSize="13px" maxWidth="44rem" mt="3" mb="3">
        {children}
      </Text>
      {next &&
        ('href' in next ? (
          <Button asChild variant="solid" size="lg">
            <Link href={next.href}>{next.words}</Link>
          </Button>
        ) : (
          <Button variant="solid" size="lg" onClick={next.act}>
            {next.words}
          </Button>
        ))}
    </>
  )
}
