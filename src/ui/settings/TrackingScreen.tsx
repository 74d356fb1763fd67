'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { Check, Minus, X } from 'lucide-react'
import { useState } from 'react'
import type { TrackingStep } from '@/server/trackingCheck'
import { Code } from '../parts/Code'
import { Note, Page, Said, Section } from '../parts/Page'
import { useSending } from '../parts/useSending'
import { WordLink } from '../parts/WordLink'
import { SettledList } from './SettledList'

const steps: Record<TrackingStep['what'], string> = {
  encrypted: 'The way there',
  answers: 'What answers',
  ours: 'Where it writes',
  tag: 'The tag',
  code: 'A code that nobody gave out',
  order: 'An order that nobody signed',
}

/** The address that ads, the site and the shop come by, and whether it answers as it should. */
export function TrackingScreen({
  origin,
  site,
  fallback,
  check,
}: {
  origin: string
  site: string
  fallback: string | null
  check: () => Promise<TrackingStep[]>
}) {
  const [found, setFound] = useState<TrackingStep[] | null>(null)
  const [busy, send] = useSending()
  const wrong = found?.filter(step => step.good === false) ?? []
  return (
    <Page
      at="/settings/tracking"
      live
      says={
        found === null
          ? `Clicks, the tag and the shop’s orders come by ${origin}.`
          : wrong.length === 0
            ? `${origin} answers as it should.`
            : `${origin} does not answer as it should: ${wrong.map(step => step.said).join('; ')}.`
      }
      actions={
        <Button variant="solid" disabled={busy} onClick={() => send(async () => setFound(await check()))}>
          Ask it now
        </Button>
      }
    >
      <Said busy={busy && 'Asking …'} />
      {found && (
        <Box as="ul" listStyleType="none" mt="2" maxWidth="48rem" aria-label="What it answered">
          {found.map(({ what, good, said }) => (
            <Flex as="li" key={what} gap="3" py="1.5" borderTopWidth="1px" borderColor="hairline">
              <Box color={good === false ? 'alarm' : good ? 'shop' : 'quiet'} pt="2px">
                {good === false ? (
                  <X size={15} aria-label="wrong" />
                ) : good ? (
                  <Check size={15} aria-label="as it should be" />
                ) : (
                  <Minus size={15} aria-label="not known" />
                )}
              </Box>
              <Text width="14rem" flexShrink={0} color="quiet">
                {steps[what]}
              </Text>
              <Text>{said}</Text>
            </Flex>
          ))}
        </Box>
      )}
      <Section title="What hangs on it">
        <SettledList
          items={[
            ['Codes of ads and saved links', `${origin}/c/…`],
            ['The tag on the site', <Code key="tag" text={`${origin}/aq.js?site=${site}`} />],
            ['The shop’s signed orders', <Code key="order" text={`${origin}/o/${site}`} />],
            [
              'Unknown and paused codes',
              <WordLink key="fallback" href="/intake/routes">
                {fallback ?? 'a plain page'}
              </WordLink>,
            ],
          ]}
        />
      </Section>
      <Section title="To have it under a name of your own">
        <Note>
          Let a name of your domain point at this machine, have a proxy there speak TLS for it and hand on to
          the collector, and start with TRACKING_ORIGIN set to it (and COLLECTOR_BEHIND_PROXY=1). Addresses
          and tags that are already at networks and on pages name the former one: let that go on answering.
        </Note>
      </Section>
    </Page>
  )
}
