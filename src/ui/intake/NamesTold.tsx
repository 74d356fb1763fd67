import { Box, Text } from '@chakra-ui/react'
import type { NameCheck } from '@/server/import/names'
import { useFormats } from '../format'
import { UnfitNames } from '../links/UnfitNames'
import { WordLink } from '../parts/WordLink'

/** What was found of the names in a file that was taken in; nothing where all keep to their rules. */
export const NamesTold = ({ check }: { check: NameCheck | undefined }) => {
  const { count } = useFormats()
  return check && check.unfitCount > 0 ? (
    <Box mt="3" fontSize="13px">
      <Text>
        {count(check.unfitCount)} {check.unfitCount === 1 ? 'name does' : 'names do'} not keep to{' '}
        <WordLink href="/links/names">the naming rules</WordLink>.{' '}
        {check.unfitCount === 1 ? 'It is in; rename it' : 'They are in; rename them'} at the network.
      </Text>
      <UnfitNames names={check.unfit} />
    </Box>
  ) : null
}
