import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { type ReactNode, useEffect, useRef } from 'react'

/**
 * What stands beside a screen while something is edited or looked at: a title, a way to close it, content. It takes
 * the focus, and gives it back to where it came from.
 */
export function SidePanel({
  title,
  label = title,
  above,
  evidence = false,
  width = 380,
  close,
  children,
}: {
  title: string
  label?: string | undefined
  /** what stands above the title */
  above?: string
  /** whether it stands beside a figure, and is read instead of filled in */
  evidence?: boolean
  /** px */
  width?: number | undefined
  close: () => void
  children: ReactNode
}) {
  const panel = useRef<HTMLDivElement>(null)
  const closing = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    const before = document.activeElement
    const first = panel.current?.querySelector<HTMLElement>(':is(input, select, textarea):not(:disabled)')
    ;(evidence ? closing.current : (first ?? closing.current))?.focus()
    return () => {
      if (before instanceof HTMLElement) before.focus()
    }
  }, [evidence])
  return (
    <Box
      ref={panel}
      as={evidence ? 'aside' : 'section'}
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
      css={{ '--ground': 'colors.sheet' }}
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
        <Box minWidth="0" overflowWrap="anywhere">
          {above && <Text color="quiet">{above}</Text>}
          <Text as="h2" fontSize="16px" fontWeight="650" lineHeight="1.25">
            {title}
          </Text>
        </Box>
        <Button ref={closing} onClick={close}>
          Close
        </Button>
      </Flex>
      {children}
    </Box>
  )
}
