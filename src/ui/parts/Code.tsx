'use client'
import { Box, Button, Flex } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'

/** Copies text; says whether it did where it was pressed. The library's own is a block within a button. */
export function CopyButton({
  text,
  children = 'Copy',
}: {
  text: string | (() => string)
  children?: ReactNode
}) {
  const [said, setSaid] = useState<string | null>(null)
  const copy = () =>
    navigator.clipboard.writeText(typeof text === 'string' ? text : text()).then(
      () => setSaid('Copied'),
      () => setSaid('The browser did not allow it'),
    )
  return (
    <Button className="no-print" onClick={() => void copy()} onBlur={() => setSaid(null)}>
      {said ?? children}
    </Button>
  )
}

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
