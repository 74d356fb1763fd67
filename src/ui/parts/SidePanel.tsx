import { Box, Button, Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** What stands beside a screen while something is edited or looked at: a title, a way to close it, content. */
export function SidePanel({
  title,
  label = title,
  width = 380,
  close,
  children,
}: {
  title: string
  label?: string
  /** px */
  width?: number
  close: () => void
  children: ReactNode
}) {
  return (
    <Box
      as="section"
      aria-label={label}
      width={`min(${width}px, 82vw)`}
      flexShrink={0}
      // Over the screen where there is no room beside it.
      position={{ base: 'absolute', lg: 'static' }}
      zIndex={{ base: 5, lg: 'auto' }}
      insetY="0"
      right="0"
      borderLeftWidth="1px"
      borderColor="hairline"
      bg="sheet"
      p="4"
      overflowY="auto"
      fontSize="13px"
      onKeyDown={event => {
        if (event.key !== 'Escape' || event.defaultPrevented) return
        event.stopPropagation()
        close()
      }}
    >
      <Flex justify="space-between" align="start" gap="3" mb="2">
        <Text as="h2" fontSize="16px" fontWeight="650" minWidth="0" overflowWrap="anywhere">
          {title}
        </Text>
        <Button onClick={close}>Close</Button>
      </Flex>
      {children}
    </Box>
  )
}
