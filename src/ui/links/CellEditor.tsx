import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { type NetworkProfile, type PlanLevel, planLevels } from '@/core/links/profile'
import { reviewAt } from '@/core/links/review'
import { levelName } from './linkWords'
import type { Cell, Own } from './PlanGrid'
import { ReviewWarning } from './ReviewWarning'
import { TemplateField } from './TemplateField'

/** Edits one parameter at one level: its value, its removal, or that the level above holds again. */
export function CellEditor({
  cell: { key, level },
  own,
  profile,
  scopeName,
  sample,
  set,
  setAt,
  close,
}: {
  cell: Cell
  own: Own
  profile: NetworkProfile
  scopeName: string
  sample: (token: string) => string
  /** null takes the parameter away from the level */
  set: (template: string | null) => void
  /** sets it at another level instead of this one */
  setAt: (level: PlanLevel, template: string) => void
  close: () => void
}) {
  const above = planLevels.slice(0, planLevels.indexOf(level))
  const inherited = above.findLast(l => key in own[l])
  const mine = own[level][key]
  const template = mine ?? (inherited ? own[inherited][key]! : '')
  return (
    <Box
      bg="sheet"
      px="3"
      py="2"
      borderTopWidth="1px"
      borderColor="hairline"
      onKeyDown={event => {
        if (event.key !== 'Enter' && event.key !== 'Escape') return
        if (event.key === 'Enter' && event.target instanceof HTMLButtonElement) return
        event.preventDefault()
        close()
      }}
    >
      <Flex gap="3" align="center" wrap="wrap">
        <Text color="quiet" flexShrink={0}>
          <Text as="span" fontFamily="mono" fontSize="12px" color="ink">
            {key}
          </Text>{' '}
          at {levelName(profile, level)}
          {scopeName && ` ${scopeName}`}
        </Text>
        <TemplateField label={key} template={template} profile={profile} sample={sample} change={set} focus />
        {mine !== '' && inherited && <Button onClick={() => set('')}>Remove it here</Button>}
        {mine !== undefined && (
          <Button onClick={() => set(null)}>{inherited ? 'Inherit again' : 'Take it out'}</Button>
        )}
        <Button onClick={close}>Done</Button>
      </Flex>
      <ReviewWarning review={reviewAt(level, [profile])} take={free => setAt(free, template)} />
    </Box>
  )
}
