'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { Check, Circle } from 'lucide-react'
import dynamic from 'next/dynamic'
import Link from 'next/link'
import { Fragment, useState } from 'react'
import { WHOLE } from '@/core/evidence/place'
import type { Settings } from '@/core/intake/settings'
import { formatDay } from '@/core/shared/days'
import {
  type BeginStep,
  type BegunFigure,
  bettersMost,
  type Held,
  type Lack,
  lacksOf,
  stepsOf,
} from '@/core/weigh/beginning'
import { costOf, type Sums } from '@/core/weigh/figures'
import type { RestsOn } from '@/server/compute/views/weigh'
import { type Formats, useFormats } from '../format'
import type { BeginNetwork } from '../networks/StartNetwork'
import { Note, Page, Section } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import type { SettingsActions } from '../settings/SettingsForm'
import { SettledList } from '../settings/SettledList'
import { useNetworkName } from '../shell/NetworkNames'
import { RestsOnNotes } from '../weigh/RestsOnNotes'

const StartNetwork = dynamic(() => import('../networks/StartNetwork').then(m => m.StartNetwork), {
  ssr: false,
})

const SettingsForm = dynamic(() => import('../settings/SettingsForm').then(m => m.SettingsForm), {
  ssr: false,
})

interface Words {
  title: string
  /** what it is for, while it is not done */
  wants: string
  /** what is there */
  has: (held: Held, formats: Formats, networkName: (id: string) => string) => string
  next: { href: string; words: string } | null
}
const dayOf = (day: number, formats: Formats) => formats.day(formatDay(day))

const words: Record<BeginStep, Words> = {
  settle: {
    title: 'Say how the business counts',
    wants:
      'Its name, its currency, where its days begin, and its margin: what is left of an order is what an order may cost.',
    has: () => 'It is said.',
    next: null,
  },
  orders: {
    title: 'Bring the shop’s orders',
    wants:
      'The shop’s own export will do, whatever its columns are called. Later the shop can send each order as it is booked.',
    has: ({ orders }, formats) =>
      orders
        ? `${formats.count(orders.count)} orders, ${dayOf(orders.first, formats)} – ${dayOf(orders.last, formats)}.`
        : '',
    next: { href: '/intake/shop', words: 'Drop the shop’s export' },
  },
  networks: {
    title: 'Name the networks that you buy ads at',
    wants: 'A name is enough to begin with: how each writes links and how far back it claims can follow.',
    has: ({ networks }, _, networkName) => `${networks.map(networkName).join(', ')}.`,
    next: null,
  },
  reports: {
    title: 'Bring what the networks spent',
    wants: 'Each network’s report as it comes, by day and campaign or ad.',
    has: ({ spend }, formats, networkName) =>
      spend
        ? `${spend.networks.map(one => networkName(one.network)).join(', ')}, up to ${dayOf(spend.last, formats)}.`
        : '',
    next: { href: '/intake/reports', words: 'Drop a network’s report' },
  },
  claims: {
    title: 'Bring what the networks claim',
    wants: 'The conversions of the same reports. What networks and shop both saw tells what neither did.',
    has: () => 'Networks’ claims are here.',
    next: { href: '/intake/reports', words: 'Drop a report with conversions' },
  },
  links: {
    title: 'Tag the ads',
    wants: 'Each ad’s address then says which ad a buyer came by.',
    has: () => 'Ads with their addresses are here.',
    next: { href: '/links', words: 'Tag the ads' },
  },
  tag: {
    title: 'Put the tag on the site',
    wants: 'Clicks and pages are then seen as they happen, and orders are proven by them.',
    has: () => 'Clicks and pages arrive.',
    next: { href: '/signals/hand-off', words: 'Hand it to whoever looks after the site' },
  },
}

const figureWords: Record<BegunFigure, string> = {
  cost: 'What one order cost',
  proven: 'Orders that are proven',
  tagged: 'Orders that are tagged',
  estimated: 'Orders by ads, estimated',
  gap: 'The gap of claims and orders',
  line: 'The line and the verdicts',
}
const lackWords: Record<BeginStep, string> = {
  settle: 'the margin, which nobody has said: it stands at all of an order',
  orders: 'the shop’s orders',
  networks: 'networks',
  reports: 'what the networks spent',
  claims: 'what the networks claim',
  links: 'ads with tagged addresses',
  tag: 'the tag on the site, by which clicks and pages are seen',
}

/** What a figure lacks, in words. */
function lackOf(lack: Lack, formats: Formats, networkName: (id: string) => string): string {
  if (!('networks' in lack)) return lackWords[lack.step]
  const who = lack.networks.map(networkName).join(', ')
  if ('after' in lack) return `reports of ${who} after ${dayOf(lack.after, formats)}`
  return lack.step === 'reports'
    ? `what ${who} spent`
    : `what ${who} claim${lack.networks.length === 1 ? 's' : ''}`
}

/** What comes first, what is there, and what the first number still rests on. */
export function BeginScreen({
  held,
  name,
  settings,
  first: number,
  actions,
  beginNetwork,
}: {
  held: Held
  name: string
  settings: Settings
  /** the sums of all ads in the usual period and what they rest on; null before there is a number */
  first: { sums: Sums; rests: RestsOn } | null
  actions: SettingsActions
  beginNetwork: BeginNetwork
}) {
  const formats = useFormats()
  const { money, tenths, count, currency } = formats
  const networkName = useNetworkName()
  const first = number?.sums ?? null
  const isCount = number?.rests.tracked ?? false
  const [open, setOpen] = useState<BeginStep | null>(null)
  const close = () => setOpen(null)
  const steps = stepsOf(held)
  const next = bettersMost(held)
  const step = next === 'later_reports' ? 'reports' : next
  const cost = first && costOf(first, first.estimatedTenths / 10)
  return (
    <Page
      says={
        first && cost !== null ? (
          <>
            One order cost {isCount && 'at most '}
            <WordLink href="/weigh">
              {money(cost)} {currency}
            </WordLink>{' '}
            in the last 28 days: {money(first.spend)} {currency} for {isCount ? 'at least' : 'an estimated'}{' '}
            {tenths(first.estimatedTenths / 10)} {isCount && 'tracked '}orders.
          </>
        ) : step === 'orders' ? (
          'What one result cost is two figures: what the networks spent, and what the shop booked. Begin with the shop.'
        ) : step === 'networks' ? (
          'The shop’s orders are here. Which networks were paid to bring them?'
        ) : step === 'reports' ? (
          'The shop’s orders are here. With what the networks spent there is a first number.'
        ) : (
          'What is here gives no cost yet: no order of the last 28 days can be an ad’s.'
        )
      }
      beside={
        open === 'networks' ? (
          <StartNetwork begin={beginNetwork} made={close} close={close} />
        ) : (
          open && (
            <SettingsForm
              title="How the business counts"
              parts={['business', 'worth', 'writing']}
              name={name}
              settings={settings}
              actions={actions}
              close={close}
              kept="How the business counts is changed."
            />
          )
        )
      }
    >
      {first && held.orders && held.spend && (
        <Note>
          It rests on {count(Math.round(first.provenCredit / WHOLE))} orders that our own evidence proves and{' '}
          {count(Math.round(first.taggedCredit / WHOLE))} known only by what their link said;{' '}
          {isCount ? 'nothing is estimated.' : 'the rest is estimated.'}
          {next === 'later_reports' &&
            ` No network has reported after ${dayOf(held.spend.last, formats)}: later orders look as if they had cost nothing.`}
        </Note>
      )}
      {number && <RestsOnNotes rests={number.rests} />}
      <Box as="ol" mt="4" maxWidth="48rem" listStyleType="none" aria-label="From nothing to a number">
        {steps.map(({ step: one, done }) => {
          const { title, wants, has, next: to } = words[one]
          const isNext = one === step
          return (
            <Flex
              as="li"
              key={one}
              gap="3"
              py="2.5"
              px="2"
              borderTopWidth="1px"
              borderColor="hairline"
              bg={isNext ? 'mark' : undefined}
              align="start"
            >
              <Box pt="1px" color={done ? 'shop' : 'quiet'}>
                {done ? <Check size={16} aria-label="done" /> : <Circle size={16} aria-label="not done" />}
              </Box>
              <Box flex="1">
                <Text fontWeight="650">{title}</Text>
                <Text fontSize="13px" color="quiet">
                  {done ? has(held, formats, networkName) : wants}
                </Text>
              </Box>
              {to ? (
                <Button asChild variant={isNext ? 'solid' : 'outline'}>
                  <Link href={to.href}>{done ? 'Bring more' : to.words}</Link>
                </Button>
              ) : (
                <Button variant={isNext ? 'solid' : 'outline'} onClick={() => setOpen(one)}>
                  {one === 'networks' ? (done ? 'Another one' : 'Name one') : done ? 'Change it' : 'Say it'}
                </Button>
              )}
            </Flex>
          )
        })}
      </Box>
      {(held.orders ?? held.spend) && (
        <Section title="What each figure still lacks">
          <SettledList
            items={lacksOf(held).map(({ figure, lacks }) => [
              figureWords[figure],
              lacks.length === 0
                ? 'nothing'
                : lacks.map((lack, i) => {
                    const to = words[lack.step].next
                    const said = lackOf(lack, formats, networkName)
                    return (
                      <Fragment key={said}>
                        {i > 0 && '; '}
                        {to ? <WordLink href={to.href}>{said}</WordLink> : said}
                      </Fragment>
                    )
                  }),
            ])}
          />
        </Section>
      )}
      <Note>
        None of it is compulsory, and all of it can be left and taken up again: by the mark in the corner.
      </Note>
    </Page>
  )
}
