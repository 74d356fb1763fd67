import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { GripVertical } from 'lucide-react'
import type { Step, WeakestStep } from '@/core/signals/journey'
import { textureStyle } from '../evidence/texture'
import { count, money, smallPercent, UNKNOWN } from '../format'

/** What one step's row shows; costs in minor units. */
export interface StepFigures {
  /** null while it is not worked out yet */
  count: number | null
  /** of the first step */
  share: number
  before: string | null
  rate: number | null
  usual: number | null
  cost: number | null
  currency: string
}

/** One step: its handle, its bar, what share went on from the step before, and what reaching it cost. */
export function StepRow({
  step,
  figures,
  weakest,
  open,
}: {
  step: Step
  figures: StepFigures
  weakest: WeakestStep['because'] | null
  open: () => void
}) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: step.id,
  })
  return (
    <Flex
      as="li"
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      opacity={isDragging ? 0.6 : 1}
      align="center"
      gap="3"
      py="1.5"
      borderTopWidth="1px"
      borderColor="hairline"
      fontSize="13px"
      bg={weakest ? 'mark' : 'transparent'}
    >
      <Button
        variant="ghost"
        aria-label={`Move ${step.name}`}
        style={{ cursor: 'grab', touchAction: 'none', display: 'flex' }}
        {...attributes}
        {...listeners}
      >
        <GripVertical size={15} />
      </Button>
      <Box width="150px" flexShrink={0}>
        <Button variant="plain" style={{ fontWeight: 650, textAlign: 'left' }} onClick={open}>
          {step.name}
        </Button>
        {step.optional && <Text color="quiet">may be skipped</Text>}
      </Box>
      <Flex flex="1" align="center" gap="2" minWidth="0">
        <Box
          height="20px"
          width={`${Math.max(0.4, figures.share * 78)}%`}
          {...textureStyle(step.optional ? 'claimed' : 'proven', 'shop')}
        />
        <Text>{figures.count === null ? UNKNOWN : count(figures.count)}</Text>
      </Flex>
      <Box width="190px" flexShrink={0}>
        {figures.before === null ? (
          <Text color="quiet">where it begins</Text>
        ) : (
          <Text color={weakest ? 'alarm' : 'ink'}>
            <b>{smallPercent(figures.rate)}</b> of {figures.before}
          </Text>
        )}
        {weakest && <Text color="alarm">weakest step</Text>}
      </Box>
      <Text width="92px" flexShrink={0} color="quiet" textAlign="right" title="In as many days before">
        {figures.before === null
          ? ''
          : figures.usual === null
            ? UNKNOWN
            : `${smallPercent(figures.usual)} before`}
      </Text>
      <Text width="112px" flexShrink={0} textAlign="right">
        {figures.cost === null ? UNKNOWN : `${money(figures.cost, figures.currency)} ${figures.currency}`}
      </Text>
    </Flex>
  )
}
