import { Box, Flex, Text } from '@chakra-ui/react'
import type { Branch, Offer } from '@/core/intake/routing'
import { useFormats } from '../format'

const LINE = 30
/** px of a path that all take */
const WIDEST = 18

const sharesOf = (branches: readonly Branch[]) => {
  const total = branches.reduce((sum, b) => sum + b.weight, 0)
  return branches.map(b => b.weight / total)
}
const middle = (i: number, of: number, lines: number) => (lines / of) * (i + 0.5) * LINE

/** The ways of a click from its code to landing pages and on to offers, each as wide as its share. */
export function RoutePaths({ landings, offers }: { landings: readonly Branch[]; offers: readonly Offer[] }) {
  const lines = Math.max(landings.length, offers.length, 1)
  const [toLandings, toOffers] = [sharesOf(landings), sharesOf(offers)]
  return (
    <Flex align="stretch" height={`${lines * LINE}px`} fontSize="12px" maxWidth="62rem">
      <Paths lines={lines} from={1} shares={toLandings.map(share => [share])} colour="network" />
      <Ends branches={landings} shares={toLandings} />
      {offers.length > 0 && (
        <>
          <Paths
            lines={lines}
            from={landings.length}
            shares={toOffers.map(share => toLandings.map(own => own * share))}
            colour="shop"
          />
          <Ends branches={offers} shares={toOffers} />
        </>
      )}
    </Flex>
  )
}

/** Curves from so many places to each end, by their shares of all. */
function Paths({
  lines,
  from,
  shares,
  colour,
}: {
  lines: number
  from: number
  /** of each end, by where they come from */
  shares: readonly (readonly number[])[]
  colour: 'network' | 'shop'
}) {
  return (
    <svg width="96" height={lines * LINE} aria-hidden style={{ flexShrink: 0 }}>
      {shares.flatMap((own, to) =>
        own.map((share, i) => {
          const [a, b] = [middle(i, from, lines), middle(to, shares.length, lines)]
          return (
            <path
              key={`${i} ${to}`}
              d={`M0 ${a}C48 ${a} 48 ${b} 96 ${b}`}
              fill="none"
              stroke={`var(--chakra-colors-${colour})`}
              strokeOpacity="0.55"
              strokeWidth={Math.max(1, share * WIDEST)}
            />
          )
        }),
      )}
    </svg>
  )
}

const Ends = ({ branches, shares }: { branches: readonly Branch[]; shares: readonly number[] }) => {
  const { percent } = useFormats()
  return (
    <Flex direction="column" justify="space-around" flex="1" minWidth="0">
      {branches.map((branch, i) => (
        <Box key={i} px="2" minWidth="0">
          <Text truncate title={branch.address}>
            {branches.length > 1 && <b>{percent(shares[i]!)} </b>}
            {branch.address.replace(/^https?:\/\//, '')}
          </Text>
        </Box>
      ))}
    </Flex>
  )
}
