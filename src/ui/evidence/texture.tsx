import { Box, type BoxProps } from '@chakra-ui/react'
import type { Grade } from '@/core/weigh/evidence'

/** Which of the two sides a mark belongs to, or both. */
export type Side = 'network' | 'shop' | 'ink'

/** The four textures of evidence: proven solid, tagged striped, claimed hollow, unplaced dotted. */
export function textureStyle(grade: Grade, side: Side): BoxProps {
  const colour = `var(--chakra-colors-${side})`
  const styles: Record<Grade, BoxProps> = {
    proven: { bg: side },
    tagged: {
      backgroundImage: `repeating-linear-gradient(135deg, ${colour} 0 2px, transparent 2px 5px)`,
      borderWidth: '1px',
      borderColor: side,
    },
    claimed: { borderWidth: '1.5px', borderColor: side },
    unplaced: {
      backgroundImage: `radial-gradient(${colour} 1px, transparent 1.3px)`,
      backgroundSize: '4px 4px',
    },
  }
  return styles[grade]
}

export const gradeWords: Record<Grade, string> = {
  proven: 'by click ID or visitor',
  tagged: 'by parameters on the order',
  claimed: 'only a network says so',
  unplaced: 'nothing says where it came from',
}

/** A small square in an evidence texture, with its word beside it. */
export function GradeMark({ grade, side = 'shop' }: { grade: Grade; side?: Side }) {
  return (
    <Box as="span" display="inline-flex" alignItems="center" gap="1.5" title={gradeWords[grade]}>
      <Box as="span" aria-hidden display="inline-block" boxSize="11px" {...textureStyle(grade, side)} />
      {grade}
    </Box>
  )
}
