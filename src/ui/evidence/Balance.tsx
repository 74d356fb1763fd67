import { Box, Flex } from '@chakra-ui/react'
import { textureStyle } from './texture'

export interface BalanceProps {
  /** claims that stand against no order of their own */
  claimsAlone: number
  both: number
  /** orders that stand against no claim */
  ordersAlone: number
  /** how much the longest of these balances holds on one side */
  most: number
  height: string
  label: string
}

/**
 * The two sides that must balance: from the middle to the left what networks claim, to the right what the
 * shop booked. What stands in both is ink on either side and always of equal length.
 */
export function Balance({ claimsAlone, both, ordersAlone, most, height, label }: BalanceProps) {
  const width = (n: number) => `${most > 0 ? (100 * n) / most : 0}%`
  return (
    <Flex role="img" aria-label={label} height={height} width="100%" position="relative">
      <Flex flex="1" justify="flex-end">
        <Box width={width(claimsAlone)} {...textureStyle('claimed', 'network')} />
        <Box width={width(both)} bg="ink" />
      </Flex>
      <Box width="1px" bg="paper" flexShrink={0} outline="1px solid" outlineColor="ink" />
      <Flex flex="1">
        <Box width={width(both)} bg="ink" />
        <Box
          width={width(ordersAlone)}
          {...textureStyle('unplaced', 'shop')}
          borderWidth="1px"
          borderColor="shop"
        />
      </Flex>
    </Flex>
  )
}

/** The same for one row: claimed to the left, proven, tagged and what is added by estimate to the right. */
export function EvidenceBalance({
  claimed,
  proven,
  tagged,
  estimated,
  most,
}: {
  claimed: number
  proven: number
  tagged: number
  estimated: number
  most: number
}) {
  const width = (n: number) => `${most > 0 ? Math.min(100, (100 * Math.max(0, n)) / most) : 0}%`
  // The elements themselves, styled from one place: it stands in every row of a long table.
  return (
    <span aria-hidden className="row-balance">
      <span>
        <i data-grade="claimed" style={{ width: width(claimed) }} />
      </span>
      <span>
        <i data-grade="proven" style={{ width: width(proven) }} />
        <i data-grade="tagged" style={{ width: width(tagged) }} />
        <i data-grade="unplaced" style={{ width: width(estimated - proven - tagged) }} />
      </span>
    </span>
  )
}
