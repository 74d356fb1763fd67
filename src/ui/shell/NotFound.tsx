'use client'
import { Box, Heading, Text } from '@chakra-ui/react'
import { usePathname } from 'next/navigation'

/** What a page says that is not there, and where to look instead. */
export function NotFound() {
  const path = usePathname()
  const order = /^\/intake\/orders\/(.+)$/.exec(path)?.[1]
  return (
    <Box px="5" py="10" maxWidth="44rem">
      <Heading as="h1" fontSize="19px" fontWeight="650" mb="2" overflowWrap="anywhere">
        {order ? `There is no order ${decodeURIComponent(order)}.` : `There is no page ${path}.`}
      </Heading>
      <Text color="quiet">
        {order
          ? 'The shop has not sent it, and no file held it. An order’s ID is written as in the shop, with capitals.'
          : 'Its address may be misspelt, or of another version.'}{' '}
        Press <kbd>Ctrl K</kbd> to find a page, an ad, an order or a link by a few letters.
      </Text>
    </Box>
  )
}
