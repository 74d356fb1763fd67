'use client'
import { Text } from '@chakra-ui/react'
import type { JudgedRow } from '@/core/weigh/rows'
import { PlainSelect } from '../../parts/Plain'
import { titleOf } from '../rowFigures'
import type { Plan } from './usePlan'

/** Budgets that are chosen from; one of another size is kept among them. */
const FACTORS = [0, 0.25, 0.5, 0.8, 1, 1.2, 1.5, 2]
export const factorWords = (factor: number): string =>
  factor === 0
    ? 'cut'
    : factor === 1
      ? 'as it is'
      : `${factor > 1 ? '+' : '−'}${Math.round(Math.abs(factor - 1) * 100)} %`

/** What is to become of a row's budget. The element itself: it stands in every row of a long table. */
export function PlanCell({ row, plan }: { row: JudgedRow; plan: Plan }) {
  const factor = plan.factorOf(row.path)
  const mixed = plan.isMixed(row.path)
  const choices = [...new Set([...FACTORS, factor])].sort((a, b) => a - b)
  if (row.sums.spend <= 0)
    return (
      <Text as="span" color="quiet" title="nothing was billed for it">
        —
      </Text>
    )
  return (
    <PlainSelect
      className="plan-cell"
      data-own={plan.isOwn(row.path) ? '' : undefined}
      aria-label={`Budget of ${titleOf(row)}`}
      value={mixed ? 'mixed' : factor}
      onChange={event => plan.change([{ path: row.path, factor: Number(event.target.value) }])}
    >
      {mixed && (
        <option value="mixed" disabled>
          mixed
        </option>
      )}
      {choices.map(one => (
        <option key={one} value={one}>
          {factorWords(one)}
        </option>
      ))}
    </PlainSelect>
  )
}
