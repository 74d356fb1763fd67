import { Box, CloseButton, Dialog, Flex, Portal, Text } from '@chakra-ui/react'
import { keyList } from './stations'

/** All that can be done by keyboard. */
export function KeysDialog({ close }: { close: () => void }) {
  return (
    <Dialog.Root open onOpenChange={close} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet" borderRadius="sm">
            <Dialog.Header>
              <Dialog.Title>Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {keyList.map(group => (
                <Box key={group.where} mb="4">
                  <Text fontWeight="650">{group.where}</Text>
                  {group.keys.map(([keys, does]) => (
                    <Flex key={keys} borderTopWidth="1px" borderColor="hairline" py="1">
                      <Text width="90px" fontFamily="mono" fontSize="12px">
                        {keys}
                      </Text>
                      <Text>{does}</Text>
                    </Flex>
                  ))}
                </Box>
              ))}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
