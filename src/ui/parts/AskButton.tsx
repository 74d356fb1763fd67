'use client'
import { Button, Flex, Popover, Portal, Text } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'

/** A button for what cannot be taken back: it says what will be gone before it is. */
export function AskButton({
  asks,
  act,
  disabled,
  children,
}: {
  asks: string
  act: () => void
  disabled?: boolean
  children: ReactNode
}) {
  const [open, setOpen] = useState(false)
  return (
    <Popover.Root lazyMount unmountOnExit open={open} onOpenChange={event => setOpen(event.open)}>
      <Popover.Trigger asChild>
        <Button disabled={disabled ?? false}>{children}</Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content role="alertdialog" aria-label={asks}>
            <Popover.Body maxWidth="320px">
              <Text mb="2">{asks}</Text>
              <Flex gap="2">
                <Button
                  variant="solid"
                  onClick={() => {
                    setOpen(false)
                    act()
                  }}
                >
                  {children}
                </Button>
                <Button onClick={() => setOpen(false)}>Leave it</Button>
              </Flex>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
