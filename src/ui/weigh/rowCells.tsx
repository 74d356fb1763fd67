'use client'
import type { Figure } from '@/core/weigh/openings'
import { type JudgedRow, scopeOf } from '@/core/weigh/rows'
import { isUnsaid } from '@/core/weigh/segments'
import { FigureLink } from '../evidence/PanelContext'
import { PlainButton } from '../parts/Plain'
import { ChanceMark, CostMark, Ranged } from './marks'
import { costIn, estimated, titleOf } from './rowFigures'
import { doubtWords, shortSentence, tiringSentence, verdictSentence, verdictWords } from './verdictWords'
import type { WeighFacts, WeighRow } from './weighFacts'

/** A figure of a row that opens to its evidence. */
export function Open({ row, figure, shown }: { row: JudgedRow; figure: Figure; shown: string }) {
  return <FigureLink figure={figure} scope={scopeOf(row)} of={titleOf(row)} shown={shown} billed />
}

/** What a result cost, its range, and where that stands against its line. */
export function CostCell({ row, facts: f }: { row: WeighRow; facts: WeighFacts }) {
  const cost = costIn(row, estimated(row))
  const [low, high] = [costIn(row, row.high), costIn(row, row.low)]
  const range =
    (low === null && high === null) || low === high
      ? ''
      : `${f.money(low)}–${high === null ? '' : f.money(high)}`
  return (
    <span className="cost-cell">
      <Ranged range={range}>
        <b data-over={cost !== null && row.line !== null && cost > row.line ? '' : undefined}>
          <Open row={row} figure="cost" shown={f.money(cost)} />
        </b>
      </Ranged>
      <CostMark cost={cost} low={low} high={high} line={row.line} />
    </span>
  )
}

/** Its verdict with what it rests on; opens why. */
export function VerdictCell({ row, facts }: { row: WeighRow; facts: WeighFacts }) {
  if (row.level === 'total' || isUnsaid(row.path)) return null
  const { kind, probability } = row.verdict
  const sentence = verdictSentence(row, facts, facts.words, facts.resultName)
  const marks = [
    ...(row.tires.length > 0
      ? [{ short: 'tires', means: row.tires.map(one => tiringSentence(one, facts)).join(' ') }]
      : []),
    ...row.doubts.map(doubt => doubtWords[doubt]),
  ]
  return (
    <PlainButton
      className="verdict"
      title={[sentence, ...marks.map(mark => mark.means)].join('\n')}
      aria-label={`${titleOf(row)}: ${verdictWords[kind]}. Why?`}
      onClick={() => facts.why(row)}
    >
      <ChanceMark probability={probability} kind={kind} />
      <b data-kind={kind}>{verdictWords[kind]}</b>
      {marks.map(mark => (
        <i key={mark.short}>{mark.short}</i>
      ))}
      <span>{shortSentence(row, facts, facts.words)}</span>
    </PlainButton>
  )
}

/** What a row is of, with its network beside a campaign. */
export function Name({ row, networkName }: { row: WeighRow; networkName: (id: string) => string }) {
  const title = titleOf(row)
  return (
    <span className="row-name">
      <span
        data-unnamed={row.name ? undefined : ''}
        title={`${title}${row.formerNames.length > 0 ? ` (before: ${row.formerNames.join(', ')})` : ''}`}
      >
        {title}
      </span>
      {row.level === 'campaign' && <span className="beside">{networkName(row.network)}</span>}
    </span>
  )
}
