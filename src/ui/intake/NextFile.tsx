'use client'
import { Button, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { dropWaiting, screenOf, useWaiting } from './waitingFiles'

/** What waits to be taken in after what is looked at now, and the way to the next of it. */
export function NextFile({ go }: { go: () => void }) {
  const waiting = useWaiting()
  const [next] = waiting
  if (!next) return null
  return (
    <Flex role="status" gap="2" align="center" wrap="wrap" bg="mark" p="2" mt="3" fontSize="13px">
      <Text>
        {waiting.length === 1 ? 'One more file waits' : `${waiting.length} more files wait`}: {next.file.name}
        {waiting.length > 1 && ` and ${waiting.length - 1} after it`}.
      </Text>
      <Button asChild variant="solid" onClick={go}>
        <Link href={screenOf[next.place.to]}>Go on with it</Link>
      </Button>
      <Button onClick={dropWaiting}>Leave {waiting.length === 1 ? 'it' : 'them'}</Button>
    </Flex>
  )
}
