'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import type { Step } from '@/server/arrivals/way'
import { useFormats } from '../format'
import { useServer } from '../parts/useServer'
import { useNetworkName } from '../shell/NetworkNames'
import { arrivalKinds } from './arrivalKinds'

const short = (address: string) => address.replace(/^https?:\/\//, '').split(/[?#]/)[0]

/** What came before and after an arrival on the same click's way, with the times between. */
export function Way({ click, current }: { click: string; current: string }) {
  const { between, instant, zone } = useFormats()
  const networkName = useNetworkName()
  const { answer: steps } = useServer<Step[]>(`/api/arrivals/way?click=${encodeURIComponent(click)}`)
  if (!steps || steps.length < 2) return null
  return (
    <Box as="section" mt="3" aria-label="Its way">
      <Text fontWeight="650">Its way</Text>
      <ol style={{ listStyle: 'none', padding: 0, margin: 0 }}>
        {steps.map((step, i) => {
          const { Icon, one, side } = arrivalKinds[step.kind]
          return (
            <li key={`${step.kind} ${step.id}`}>
              {i > 0 && (
                <Text fontSize="11px" color="quiet" pl="5" lineHeight="1.3">
                  {between(step.at - steps[i - 1]!.at)}
                </Text>
              )}
              <Flex
                gap="2"
                align="center"
                bg={step.id === current ? 'mark' : undefined}
                title={`${instant(step.at)} ${zone}`}
              >
                <Icon
                  size={13}
                  aria-label={one}
                  color={`var(--chakra-colors-${side})`}
                  style={{ flexShrink: 0 }}
                />
                <Text truncate>
                  {step.kind === 'click' ? networkName(step.what) : step.what}
                  <Text as="span" color="quiet">
                    {' '}
                    {short(step.where)}
                  </Text>
                </Text>
              </Flex>
            </li>
          )
        })}
      </ol>
    </Box>
  )
}
