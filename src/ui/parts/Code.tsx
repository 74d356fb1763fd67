'use client'
import { Box, Button, Clipboard, Flex } from '@chakra-ui/react'

/** Code or an address, to be copied. */
export function Code({ text, copyWords = 'Copy' }: { text: string; copyWords?: string }) {
  return (
    <Flex gap="2" align="start" mt="1">
      <Box
        as="pre"
        flex="1"
        minWidth="0"
        bg="sheet"
        px="2"
        py="1"
        fontFamily="mono"
        fontSize="12px"
        whiteSpace="pre-wrap"
        wordBreak="break-all"
      >
        {text}
      </Box>
      <Clipboard.Root value={text} className="no-print">
        <Clipboard.Trigger asChild>
          <Button>
            <Clipboard.Indicator copied="Copied">{copyWords}</Clipboard.Indicator>
          </Button>
        </Clipboard.Trigger>
      </Clipboard.Root>
    </Flex>
  )
}
