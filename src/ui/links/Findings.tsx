import { Box, Button, Flex, Text } from '@chakra-ui/react'
import type { LinkChange } from '@/core/links/change'
import type { LinkFinding } from '@/core/links/finding'
import type { NetworkProfile } from '@/core/links/profile'
import type { Reach } from '@/core/links/reach'
import { reviewOf } from '@/core/links/review'
import { useFormats } from '../format'
import { findingWords } from './findingWords'
import { reachWords } from './linkWords'

/** The findings of one link, gravest first, each with its fix where one is certain. */
export function Findings({
  findings,
  profile,
  reachOf,
  fixOf,
  fix,
}: {
  findings: readonly LinkFinding[]
  profile: NetworkProfile
  /** how far changes go among all ads */
  reachOf: (changes: readonly LinkChange[]) => Reach
  fixOf: (finding: LinkFinding) => LinkChange[]
  fix: (changes: LinkChange[]) => void
}) {
  const formats = useFormats()
  const fixes = findings.map(fixOf)
  const first = fixes.findIndex(changes => changes.length > 0)
  return (
    <>
      <Text as="h2" fontWeight="650">
        {findings.length === 0
          ? 'No findings'
          : findings.length === 1
            ? 'One finding'
            : `${findings.length} findings`}
      </Text>
      {findings.map((f, i) => (
        <Flex
          key={`${f.code}${i}`}
          borderTopWidth="1px"
          borderColor="hairline"
          py="1.5"
          fontSize="13px"
          gap="2"
          justify="space-between"
          align="start"
        >
          <Box minWidth="0" overflowWrap="anywhere">
            <Text
              as="span"
              fontWeight="650"
              color={f.severity === 'error' ? 'alarm' : f.severity === 'warning' ? 'network' : 'quiet'}
            >
              {f.severity}
            </Text>
            {f.at.part === 'parameter' ? ` in ${f.at.key}` : ''}: {findingWords(f, profile)}
            {fixes[i]!.length > 0 && (
              <Text as="span" color="quiet">
                {' '}
                {reachWords(reachOf(fixes[i]!), profile, 'Mending it changes', formats)}
              </Text>
            )}
            {reviewOf(fixes[i]!, [profile]) && (
              <Text as="span" color="network">
                {' '}
                Mending it sends the ad to review.
              </Text>
            )}
          </Box>
          {fixes[i]!.length > 0 && (
            <Button
              aria-label={`Mend: ${f.code.replaceAll('_', ' ')}`}
              onClick={() => fix(fixes[i]!)}
              flexShrink="0"
            >
              Mend{i === first && <kbd> f</kbd>}
            </Button>
          )}
        </Flex>
      ))}
    </>
  )
}
