'use client'
import { Box, Button, Clipboard, Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** Copies text; says so where it was pressed. */
export const CopyButton = ({ text, children = 'Copy' }: { text: string; children?: ReactNode }) => (
  <Clipboard.Root value={text} className="no-print">
    <Clipboard.Trigger asChild>
      <Button>
        <Clipboard.Indicator copied="Copied">{children}</Clipboard.Indicator>
      </Button>
    </Clipboard.Trigger>
  </Clipboard.Root>
)

/** Code or an address, to be copied. */
export const Code = ({ text }: { text: string }) => (
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
    <CopyButton text={text} />
  </Flex>
)
