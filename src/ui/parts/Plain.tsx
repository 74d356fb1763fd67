import type { ComponentProps } from 'react'

/*
 * The elements themselves, for lists of which dozens of lines are drawn at each step of scrolling: the tree of ads,
 * the cells of a tag plan, figures in the cells of `DataTable`. A styled component works out its style anew for each
 * place where it stands (docs/decisions/026); everywhere else the library's components stand.
 */

export const PlainButton = (props: ComponentProps<'button'>) => <button type="button" {...props} />

export const PlainSelect = (props: ComponentProps<'select'>) => <select {...props} />

/** A box to mark something by; half marked where only a part of it is. */
export const MarkBox = ({
  name,
  marks,
  mark,
}: {
  name: string
  marks: 'all' | 'some' | 'none'
  mark: () => void
}) => (
  <input
    type="checkbox"
    className="mark-box"
    aria-label={`Mark ${name}`}
    checked={marks === 'all'}
    ref={field => {
      if (field) field.indeterminate = marks === 'some'
    }}
    onChange={mark}
  />
)
