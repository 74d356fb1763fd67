import { ChevronsDown } from 'lucide-react'
import { useFormats } from '../format'
import { MarkBox, PlainButton } from '../parts/Plain'
import { stateWords } from './linkWords'
import type { StationAd } from './station'
import type { TreeLine } from './treeLines'

/** px */
const depth = { network: 0, campaign: 6, ad_set: 14, ad: 22 }

export type Marks = 'all' | 'some' | 'none'

/** What arrives wrong at an ad, in words; empty when nothing does. */
const arrivesWrong = ({ arrivals }: StationAd): string =>
  arrivals
    ? [
        ...arrivals.unresolved.map(key => `${key} arrives unresolved`),
        ...arrivals.empty.map(key => `${key} arrives empty`),
        ...arrivals.unknown.map(key => `${key} arrives with a value that nobody knows`),
      ].join('; ')
    : ''

/**
 * One line of the tree. Of plain elements: dozens are drawn at each step of scrolling.
 *
 * @param below the ads below it; of an ad, itself
 * @param top px from the top of the list
 * @param press chooses an ad, folds or opens a heading
 */
export function TreeRow({
  line,
  below,
  top,
  chosen,
  marks,
  mark,
  press,
}: {
  line: TreeLine
  below: readonly StationAd[]
  top: number
  chosen: boolean
  marks: Marks
  mark: () => void
  press: () => void
}) {
  const { count } = useFormats()
  return (
    <div
      className="tree-row"
      data-kind={line.kind}
      data-chosen={chosen || undefined}
      style={{ transform: `translateY(${top}px)`, paddingLeft: 12 + depth[line.kind] }}
    >
      <MarkBox name={line.text} marks={marks} mark={mark} />
      {line.kind === 'ad' ? (
        <AdInRow ad={line.ad} chosen={chosen} choose={press} />
      ) : (
        <>
          <PlainButton title={line.text} aria-expanded={!line.folded} onClick={press}>
            {line.text}
          </PlainButton>
          {line.folded && (
            <>
              <ChevronsDown size={12} aria-hidden />
              {below.some(ad => ad.worst === 'error' || arrivesWrong(ad)) && (
                <Alarm why="Some of these ads lose clicks or values." />
              )}
              <span className="tree-count">{count(below.length)}</span>
            </>
          )}
        </>
      )}
    </div>
  )
}

const Alarm = ({ why }: { why: string }) => (
  <b className="alarm" role="img" title={why} aria-label={why}>
    !
  </b>
)

function AdInRow({ ad, chosen, choose }: { ad: StationAd; chosen: boolean; choose: () => void }) {
  const { count } = useFormats()
  const wrong = arrivesWrong(ad) || (ad.worst === 'error' ? 'This link would lose clicks.' : '')
  const { lastDay = 0 } = ad.arrivals ?? {}
  return (
    <>
      {ad.state === null ? (
        <span className="state-mark" />
      ) : (
        <span
          className="state-mark"
          data-state={ad.state}
          role="img"
          aria-label={stateWords[ad.state]}
          title={stateWords[ad.state]}
        />
      )}
      <PlainButton title={`${ad.name} (${ad.id})`} aria-current={chosen} onClick={choose}>
        {ad.name}
      </PlainButton>
      {wrong && <Alarm why={wrong} />}
      <span
        className="tree-count"
        title={lastDay > 0 ? 'clicks seen in the last day' : 'no click seen in the last day'}
      >
        {lastDay > 0 ? count(lastDay) : '·'}
      </span>
    </>
  )
}
