import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { writeParameterLines } from '@/core/links/parameterLines'
import type { SavedLink } from '@/core/links/savedLink'
import type { LibraryLink } from '@/server/links/library'
import { useFormats } from '../format'

/** What differs between two states of a link, in words. */
function differences(was: SavedLink, is: SavedLink): string {
  const said: [string, unknown, unknown][] = [
    ['title', was.title, is.title],
    ['destination', was.destination, is.destination],
    ['note', was.note, is.note],
    ['for', was.made_for, is.made_for],
    ['parameters', writeParameterLines(was.parameters), writeParameterLines(is.parameters)],
    ['archived', was.archived, is.archived],
    ['cost', JSON.stringify(was.cost), JSON.stringify(is.cost)],
    ['codes', was.former_codes.join(), is.former_codes.join()],
  ]
  return (
    said
      .filter(([, a, b]) => a !== b)
      .map(([what]) => what)
      .join(', ') || 'nothing'
  )
}

/** What a saved link was before, the latest first; any of it can be had again. */
export function LinkHistory({
  line: { link, history },
  busy,
  bringBack,
}: {
  line: LibraryLink
  busy: boolean
  bringBack: (until: number) => void
}) {
  const { instant } = useFormats()
  return (
    <Box mt="4">
      <Text as="h3" fontWeight="650">
        What it was before
      </Text>
      {history.map(({ at, link: was }, i) => (
        <Flex key={at} borderTopWidth="1px" borderColor="hairline" py="1" gap="2" align="baseline">
          <Text flex="1" overflowWrap="anywhere">
            <Text as="span" color="quiet">
              until {instant(at)}
            </Text>{' '}
            {was.destination} (then changed: {differences(was, history[i - 1]?.link ?? link)})
          </Text>
          <Button disabled={busy} onClick={() => bringBack(at)}>
            {i === 0 ? 'Undo' : 'Bring back'}
          </Button>
        </Flex>
      ))}
    </Box>
  )
}
