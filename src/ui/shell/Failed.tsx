'use client'
import { Box, Button, Flex, Heading, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { startTransition } from 'react'
import { Rail } from './Rail'

/** That a page could not be made, beside the stations: what is stored is safe, and it can be tried again. */
export function Failed({ error, again }: { error: Error & { digest?: string }; again: () => void }) {
  const router = useRouter()
  return (
    <Flex height="100vh" overflow="hidden">
      <Rail attention={{}} />
      <Box as="main" flex="1" px="5" py="10">
        <Box maxWidth="44rem" role="alert">
          <Heading as="h1" fontSize="19px" fontWeight="650" mb="2">
            This page could not be shown.
          </Heading>
          <Text color="quiet" mb="4">
            Nothing that is stored is lost by it. Either the database does not answer at the moment, or
            something on this page is wrong; then the other stations still work.
            {error.digest && ` The application’s log has it under ${error.digest}.`}
          </Text>
          <Button
            variant="solid"
            onClick={() =>
              startTransition(() => {
                router.refresh()
                again()
              })
            }
          >
            Try again
          </Button>
        </Box>
      </Box>
    </Flex>
  )
}
