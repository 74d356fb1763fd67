'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { ratio } from '@/core/weigh/figures'
import { marginalReturn } from '@/core/weigh/whatIf'
import type { WeighPlan } from '@/server/compute/views/weigh'
import { useFormats } from '../../format'
import { AmountField } from '../../parts/AmountField'
import { NumberField, SelectField } from '../../parts/Fields'
import { useDock } from '../../parts/useDock'
import { useServer } from '../../parts/useServer'
import { useResultWords } from '../../shell/ResultWords'
import { costIn, estimated } from '../rowFigures'
import { verdictWords } from '../verdictWords'
import { factorWords } from './PlanCell'
import type { Plan } from './usePlan'

const MakeMoves = dynamic(() => import('./MakeMoves').then(m => m.MakeMoves), { ssr: false })
/** So many proposals are said in words; the table shows all. */
const SAID = 4

/** What the account would come to by the plan, beside what it is. */
export function PlanBar({
  plan,
  nameOf,
  query,
  days,
}: {
  plan: Plan
  /** what a row is called, by its path */
  nameOf: (path: readonly string[]) => string
  query: string
  /** how many days the figures are of */
  days: number
}) {
  const f = useFormats()
  const { money, tenths, ratioText, count } = f
  const words = useResultWords()
  const { answer: rests } = useServer<WeighPlan>(`/api/weigh/plan?${query}`)
  const [budget, setBudget] = useState<number | undefined>()
  const [making, setMaking] = useState(false)
  const { planned, today, draft } = plan
  const [bar, setBar] = useState<HTMLElement | null>(null)
  useDock(bar)
  if (!today) return <Text color="quiet">Ads are on their way …</Text>
  const after = planned?.sums ?? today
  const changed = planned?.changes.length ?? 0
  const results = (tenthsOf: number) => tenthsOf / 10
  const cost = (sums: typeof after) => ratio(sums.spend, results(sums.tenths))
  const roasAt = (bound: number) => ratio((after.value * bound) / results(after.tenths), after.spend)
  const over = (sums: typeof after) => sums.leaves - sums.spend
  const stand = (sums: typeof after) =>
    over(sums) >= 0 ? `${money(over(sums))} over break-even` : `${money(-over(sums))} short of break-even`
  const elastic = rests?.measured
  return (
    <Box
      ref={setBar}
      as="section"
      aria-label="What if"
      borderTopWidth="2px"
      borderColor="ink"
      bg="sheet"
      px="3"
      py="2"
      fontSize="13px"
      data-crossed={over(today) < 0 && over(after) >= 0 ? 'up' : undefined}
    >
      <Flex columnGap="4" wrap="wrap" align="baseline" role="status">
        <Text as="h2" fontWeight="650">
          What if{' '}
          <Text as="span" color="quiet" fontWeight="400">
            {changed === 0
              ? 'nothing is changed yet'
              : `${count(changed)} ${changed === 1 ? 'ad spends' : 'ads spend'} otherwise`}
          </Text>
        </Text>
        <Pair label="spend" before={money(today.spend)} after={money(after.spend)} />
        <Pair
          label={words('orders')}
          before={tenths(results(today.tenths))}
          after={tenths(results(after.tenths))}
          range={planned ? `${count(Math.round(planned.low))}–${count(Math.round(planned.high))}` : ''}
        />
        <Pair
          label={words('cost of one')}
          before={money(cost(today))}
          after={money(cost(after))}
          range={
            planned
              ? `${money(ratio(after.spend, planned.high))}–${money(ratio(after.spend, planned.low))}`
              : ''
          }
        />
        <Pair label="worth" before={money(today.value)} after={money(after.value)} />
        <Pair
          label="ROAS"
          before={ratioText(ratio(today.value, today.spend))}
          after={ratioText(ratio(after.value, after.spend))}
          range={
            planned && after.tenths > 0
              ? `${ratioText(roasAt(planned.low))}–${ratioText(roasAt(planned.high))}`
              : ''
          }
        />
        <Text>
          <Text as="span" color="quiet">
            now {stand(today)}, then{' '}
          </Text>
          <Text as="span" fontWeight="650" color={over(after) >= 0 ? 'shop' : 'alarm'}>
            {stand(after)}
          </Text>
        </Text>
      </Flex>
      <BreakEvenScale before={today} after={after} />
      <Flex gap="2" mt="2" wrap="wrap" align="center" whiteSpace="nowrap">
        <Button onClick={() => void plan.propose('break_even', 0)}>
          Reach break-even with the least change
        </Button>
        <Button onClick={() => void plan.propose('most_worth', budget ?? today.spend)}>
          Most worth for this budget
        </Button>
        <AmountField
          unseen
          label="Budget to share out"
          currency={f.currency}
          value={budget}
          change={setBudget}
          placeholder={money(today.spend)}
          width="84px"
        />
        <NumberField
          unseen
          label="A budget grows to at most so many times"
          value={draft.most}
          least={1}
          most={10}
          step={0.5}
          width="56px"
          unit="× at most"
          change={most => plan.setRules({ most: Math.min(10, Math.max(1, most ?? 2)) })}
        />
        <SelectField
          unseen
          label="Money that is cut"
          value={draft.rules.cut}
          change={cut => plan.setRules({ cut: cut === 'moved' ? 'moved' : 'saved' })}
          choices={[
            ['saved', 'what is cut is saved'],
            ['moved', 'what is cut goes to the others'],
          ]}
        />
        <NumberField
          unseen
          label="Elasticity"
          value={draft.rules.elasticity}
          least={0.2}
          most={1}
          step={0.05}
          width="60px"
          unit="elasticity"
          change={value => plan.setRules({ elasticity: Math.min(1, Math.max(0.2, value ?? 0.8)) })}
        />
        {elastic ? (
          <Button
            variant="plain"
            title="by how results rose with spend from week to week, ad by ad"
            onClick={() => plan.setRules({ elasticity: Math.round(elastic.elasticity * 100) / 100 })}
          >
            measured {ratioText(elastic.elasticity)} ± {ratioText(elastic.error)}
          </Button>
        ) : (
          <Text as="span" color="quiet" title="budgets differed too little from week to week to tell">
            not measurable here: 0.8 is usual
          </Text>
        )}
        <Flex ml="auto" gap="2">
          <Button variant="solid" disabled={changed === 0} onClick={() => setMaking(true)}>
            Make these moves …
          </Button>
          <Button disabled={draft.factors.length === 0} onClick={plan.clear}>
            Empty the plan
          </Button>
          {draft.factors.length === 0 && <Button onClick={() => plan.setOpen(false)}>Close</Button>}
        </Flex>
      </Flex>
      <Proposed plan={plan} nameOf={nameOf} />
      <Text color="quiet" mt="1" fontSize="12px">
        For {count(days)} days like these. Where spend grows by a hundredth, results grow by{' '}
        {ratioText(draft.rules.elasticity)} hundredths; what an ad is expected to bring is drawn to its like.
      </Text>
      {making && planned && (
        <MakeMoves plan={plan} nameOf={nameOf} days={days} query={query} close={() => setMaking(false)} />
      )}
    </Box>
  )
}

function Pair({
  label,
  before,
  after,
  range,
}: {
  label: string
  before: string
  after: string
  range?: string
}) {
  return (
    <Text>
      <Text as="span" color="quiet">
        {label}{' '}
      </Text>
      {before !== after && (
        <Text as="span" color="quiet">
          {before} →{' '}
        </Text>
      )}
      <Text as="span" fontWeight="650">
        {after}
      </Text>
      {range && (
        <Text as="span" color="quiet" fontSize="11px">
          {' '}
          {range}
        </Text>
      )}
    </Text>
  )
}

/** What results leave over what is spent, now and then: break-even stands in the middle. */
function BreakEvenScale({
  before,
  after,
}: {
  before: { spend: number; leaves: number }
  after: { spend: number; leaves: number }
}) {
  const place = ({ spend, leaves }: typeof before) =>
    spend > 0 && leaves > 0 ? 50 + 50 * Math.max(-1, Math.min(1, Math.log(leaves / spend) / Math.log(2))) : 0
  const [from, to] = [place(before), place(after)]
  return (
    <Box aria-hidden position="relative" height="14px" mt="1" borderBottomWidth="1px" borderColor="hairline">
      <Box position="absolute" left="50%" top="0" bottom="-4px" width="1px" bg="ink" />
      <Box
        position="absolute"
        top="6px"
        height="2px"
        left={`${Math.min(from, to)}%`}
        width={`${Math.abs(to - from)}%`}
        bg={to >= from ? 'shop' : 'alarm'}
      />
      <Box
        position="absolute"
        top="3px"
        boxSize="8px"
        ml="-4px"
        left={`${from}%`}
        borderWidth="1.5px"
        borderColor="quiet"
      />
      <Box
        position="absolute"
        top="2px"
        width="4px"
        height="10px"
        ml="-2px"
        left={`${to}%`}
        bg={to >= 50 ? 'shop' : 'alarm'}
      />
    </Box>
  )
}

/** What was proposed, each change in one sentence. */
function Proposed({ plan, nameOf }: { plan: Plan; nameOf: (path: readonly string[]) => string }) {
  const { money, ratioText, count, currency } = useFormats()
  const { proposal, ads, draft } = plan
  if (!proposal || !ads) return null
  const { of, said } = proposal
  if (said.kind === 'already')
    return (
      <Text mt="2">
        {of === 'break_even'
          ? 'The account is over break-even already: nothing need be cut for that.'
          : 'The budget is shared out as well as can be told: no change of a tenth or more would bring more.'}
      </Text>
    )
  /** Why more is proposed for an ad that by itself is none to raise; nothing for the others. */
  const reasonFor = ({ path, factor, marginal }: (typeof said.changes)[number]): string => {
    const row = factor > 1 ? plan.rowOf(path) : null
    if (!row || row.verdict.kind === 'raise') return ''
    const cost = costIn(row, estimated(row))
    const over = cost !== null && row.line !== null && cost > row.line && !row.restsOn
    const stands = `Its verdict is ${verdictWords[row.verdict.kind]}${over ? ', and its cost is above break-even' : ''}`
    return marginal !== null && marginal >= 1
      ? ` ${stands}, but expected profit per ${currency} is above 1, judged with ads like it.`
      : ` ${stands}: but other ads bring back even less for the same money.`
  }
  const needsReason = said.changes.filter(change => reasonFor(change) !== '')
  const shown = [
    ...needsReason,
    ...said.changes.filter(change => !needsReason.includes(change)).slice(0, SAID),
  ].slice(0, 2 * SAID)
  const best = ads
    .flatMap(ad => marginalReturn(ad, plan.factorOf(ad.path), draft.rules.elasticity) ?? [])
    .reduce((most, one) => Math.max(most, one), 0)
  return (
    <Box mt="2">
      {said.kind === 'out_of_reach' && (
        <Text color="alarm">
          Cutting every ad that is expected to lose is not enough to reach break-even: margin, prices or the
          site have to change as well.
        </Text>
      )}
      {shown.map(change => (
        <Text key={change.path.join('/')}>
          {change.factor === 0
            ? `Cut ${nameOf(change.path)}: ${money(change.spend)} ${currency} less spent, which is expected to bring back ${money(change.spend - change.gain)}.`
            : `${change.factor > 1 ? 'Raise' : 'Lower'} ${nameOf(change.path)} by ${factorWords(change.factor).replace(/[+−]/, '')} to ${money(Math.round(change.spend * change.factor))} ${currency}: its next ${currency} brings back ${ratioText(change.marginal)}${change.factor > 1 ? ` now` : `, and ${ratioText(best)} elsewhere`}.${reasonFor(change)}`}
        </Text>
      ))}
      {said.kind === 'proposed' && said.unspent !== undefined && (
        <Text>
          {money(said.unspent)} {currency} of the budget is left: the next {currency} would bring back less
          than it costs.
        </Text>
      )}
      {said.changes.length > shown.length && (
        <Text color="quiet">
          And {count(said.changes.length - shown.length)} more, in the column of budgets.
        </Text>
      )}
    </Box>
  )
}
