import { Button, Flex, Text } from '@chakra-ui/react'
import type { PlanLevel } from '@/core/links/profile'
import type { Review } from '@/core/links/review'
import { levelName } from './linkWords'

/** Says before a change that it sends ads to review, and offers the level that avoids it. */
export function ReviewWarning({
  review,
  take,
}: {
  review: Review | null
  /** makes the change at that level instead, where it can be made elsewhere */
  take?: (level: PlanLevel) => void
}) {
  if (!review) return null
  const { level, networks, instead } = review
  const [only] = networks
  const called = (l: PlanLevel) => levelName(networks.length === 1 && only ? only : { level_names: {} }, l)
  return (
    <Flex mt="1.5" gap="3" align="center" color="network" fontSize="13px">
      <Text role="status">
        A change at {called(level)} level sends ads to review at {networks.map(p => p.name).join(', ')} and
        resets their figures.
      </Text>
      {take && instead && (
        <Button flexShrink="0" onClick={() => take(instead)}>
          Do it at {called(instead)} level instead
        </Button>
      )}
    </Flex>
  )
}
