'use client'
import { Box } from '@chakra-ui/react'
import { EmptyState } from '../parts/EmptyState'
import { Sentence } from '../parts/Page'

const teaches = {
  Links:
    'Here each ad gets its tagged address. Campaigns and ads come with a delivery report: Norrfeed’s “Autumn kits”, say, with its ad sets and ads. Their names and IDs then fill the tokens.',
  Reconcile:
    'Here what networks claim stands against what the shop booked: “93 orders; networks claim 61 of them”, with every order of the difference named.',
  Weigh:
    'Here every campaign, ad set and ad shows what one result cost: “Oak & wool: 41 orders, 38.20 EUR each, under the line of 56”.',
} as const

/** What a station shows when nothing has come in: what it will tell, and the one next step. */
export function NothingYet({ station }: { station: keyof typeof teaches }) {
  return (
    <Box px="5" py="10">
      <Sentence>{teaches[station]}</Sentence>
      <EmptyState next={{ words: 'Take in the first file', href: '/intake/import' }}>
        Nothing has come in yet. Start with what the networks spent and what the shop booked: two CSV files.
      </EmptyState>
    </Box>
  )
}
