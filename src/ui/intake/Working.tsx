import { Button, Flex, Text } from '@chakra-ui/react'
import { useFormats } from '../format'
import type { Progress } from './sendFile'

/** How far a file is, with a way to stop. */
export function Working({
  what,
  progress,
  stop,
}: {
  what: string
  progress: Progress | null
  stop: () => void
}) {
  const { count } = useFormats()
  return (
    <Flex gap="3" align="center" aria-live="polite">
      <Text>{what} …</Text>
      {progress && (
        <>
          <progress value={progress.rows} max={progress.of} aria-label="Rows taken in" />
          <Text color="quiet" fontSize="13px" width="170px">
            {count(progress.rows)} of {count(progress.of)} rows
          </Text>
        </>
      )}
      <Button onClick={stop}>Cancel</Button>
    </Flex>
  )
}
