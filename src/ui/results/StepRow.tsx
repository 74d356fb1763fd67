import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { GripVertical } from 'lucide-react'
import type { Step, WeakestStep } from '@/core/signals/journey'
import { textureStyle } from '../evidence/texture'
import { UNKNOWN, useFormats } from '../format'

/** What one step's row shows; costs in minor units. */
export interface StepFigures {
  /** null while it is not worked out yet */
  count: number | null
  /** of the first step */
  share: number
  /** the shares that go on: at this row’s top, and at the next one’s; optional steps are passed by */
  flow: readonly [number, number]
  before: string | null
  rate: number | null
  usual: number | null
  cost: number | null
  currency: string
}

/** Of the room that a step's bar has, per cent. */
const WIDEST = 78

/** How many go on from a step to the next, narrowing from row to row. */
const Flow = ({ flow: [top, bottom] }: Pick<StepFigures, 'flow'>) => (
  <svg
    aria-hidden
    viewBox="0 0 100 100"
    preserveAspectRatio="none"
    style={{ position: 'absolute', left: 0, top: -6, width: `${WIDEST}%`, height: 'calc(100% + 13px)' }}
  >
    <polygon
      points={`0,0 ${top * 100},0 ${bottom * 100},100 0,100`}
      fill="var(--chakra-colors-shop)"
      fillOpacity="0.14"
    />
  </svg>
)

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
  const { count, smallPercent, money } = useFormats()
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
        cursor="grab"
        touchAction="none"
        display="flex"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={15} />
      </Button>
      <Box width="150px" flexShrink={0}>
        <Button variant="plain" fontWeight="650" textAlign="left" onClick={open}>
          {step.name}
        </Button>
        {step.optional && <Text color="quiet">may be skipped</Text>}
      </Box>
      <Flex flex="1" align="center" gap="2" minWidth="0" position="relative" alignSelf="stretch">
        <Flow flow={figures.flow} />
        <Box
          height="20px"
          width={`${Math.max(0.4, figures.share * WIDEST)}%`}
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
