'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { HandOff } from '@/server/signals/handOff'
import { useFormats } from '../format'
import { Code } from '../parts/Code'
import { Page } from '../parts/Page'
import { whereWords } from './ruleWords'

/** The hand-off: the exact code to place, where and in which order, for whoever looks after the site. */
export function HandOffScreen({
  handOff,
  places,
  hiddenFields,
  install,
}: {
  handOff: HandOff
  /** common places for code, with how */
  places: readonly [place: string, how: string][]
  hiddenFields: string
  /** places it all on the practice shop; null where there is none */
  install: (() => Promise<boolean>) | null
}) {
  const { count } = useFormats()
  const { tag, rules, networks } = handOff
  const ready = networks.filter(n => n.base !== '')
  const onSite = ready.filter(n => n.placedBy === 'site')
  const along = ready.filter(n => n.placedBy === 'tag')
  const [said, setSaid] = useState('')
  return (
    <Page
      at="/signals/hand-off"
      says={`One tag on every page${onSite.length > 0 ? `, and the own code of ${onSite.map(n => n.name).join(', ')}` : ''}: give this sheet to whoever looks after the site.`}
      actions={
        <>
          <Button onClick={() => window.print()}>Print the sheet</Button>
          <Button asChild>
            <a href="/api/hand-off" download>
              As a Markdown file
            </a>
          </Button>
          {install && (
            <Button
              onClick={() =>
                void install().then(done =>
                  setSaid(done ? 'The practice shop has placed it.' : 'The practice shop does not answer.'),
                )
              }
            >
              Place it on the practice shop
            </Button>
          )}
          <Text role="status">{said}</Text>
        </>
      }
    >
      <Step
        number={1}
        title="Aequant’s tag, on every page"
        where="In the head, once, before everything else."
      >
        <Code text={tag} />
        <Text fontSize="13px" color="quiet">
          {count(rules)} {rules === 1 ? 'rule runs' : 'rules run'} in it. New rules need no change of the
          site.
          {along.length > 0 &&
            ` It also places the code of ${along.map(n => n.name).join(', ')}: take theirs from the pages, or they hear everything twice.`}
        </Text>
        <Box as="dl" fontSize="13px" mt="2">
          {places.map(([place, how]) => (
            <Flex key={place} gap="3">
              <Text as="dt" width="130px" flexShrink={0} color="quiet">
                {place}
              </Text>
              <Text as="dd">{how}</Text>
            </Flex>
          ))}
        </Box>
      </Step>
      {onSite.map((network, i) => (
        <Step
          key={network.id}
          number={i + 2}
          title={`${network.name}’s base code, account ${network.account}`}
          where="In the head of every page, after the tag above."
        >
          <Code text={network.base} />
          {network.events.map(event => (
            <Box key={event.slot} mt="2">
              <Text fontSize="13px">
                {event.result}, which {network.name} calls {event.slot}:{' '}
                {event.where ? `only on ${whereWords(event.where)}` : 'where it comes about'}, after the base
                code, without repeating it. The shop puts its own values where braces stand.
              </Text>
              <Code text={event.code} />
            </Box>
          ))}
        </Step>
      ))}
      <Step
        number={onSite.length + 2}
        title="Hidden fields in order forms"
        where="The tag fills them in, so that an order knows where it came from and whether it was placed in a live test."
      >
        <Code text={hiddenFields} />
      </Step>
    </Page>
  )
}

function Step({
  number,
  title,
  where,
  children,
}: {
  number: number
  title: string
  where: string
  children: React.ReactNode
}) {
  return (
    <Box as="section" mt="5" borderTopWidth="1px" borderColor="hairline" pt="3" maxWidth="66rem">
      <Text as="h2" fontSize="16px" fontWeight="650">
        {number}. {title}
      </Text>
      <Text fontSize="13px" mb="1">
        {where}
      </Text>
      {children}
    </Box>
  )
}
