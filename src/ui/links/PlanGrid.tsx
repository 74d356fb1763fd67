'use client'
import { Box, Button, Flex, Table, Text } from '@chakra-ui/react'
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { GripVertical } from 'lucide-react'
import { Fragment, type KeyboardEvent, type ReactNode } from 'react'
import type { Parameters } from '@/core/links/change'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels } from '@/core/links/profile'
import { parseTemplate } from '@/core/links/template'
import { PlainButton } from '../parts/Plain'
import { levelName, tokenWords } from './linkWords'
import { Template } from './TemplateField'

export interface Cell {
  key: string
  level: PlanLevel
}
export type Own = Record<PlanLevel, Parameters>

/** Keys in the order of the address: that in which the levels set them, outermost first. */
export const keysOf = (own: Own): string[] => [
  ...new Set(planLevels.flatMap(level => Object.keys(own[level]))),
]
const homeOf = (own: Own, key: string): PlanLevel => planLevels.find(level => key in own[level]) ?? 'account'

/** What holds at a level: the lowest level at or above it that sets the key. */
function holdingAt(own: Own, { key, level }: Cell): { template: string; from: PlanLevel } | null {
  const from = planLevels.slice(0, planLevels.indexOf(level) + 1).findLast(l => key in own[l])
  return from ? { template: own[from][key]!, from } : null
}

/**
 * The tag plan as a table: parameters as rows, levels as columns. A value stands strong where it is set and
 * runs on light through the levels below, until one sets its own.
 */
export function PlanGrid({
  own,
  profile,
  scopeNames,
  editing,
  edit,
  reorder,
  editor,
}: {
  own: Own
  profile: NetworkProfile
  scopeNames: Record<PlanLevel, string>
  editing: Cell | null
  edit: (cell: Cell) => void
  /** the keys of a level in their new order */
  reorder: (level: PlanLevel, keys: string[]) => void
  editor: ReactNode
}) {
  const keys = keysOf(own)
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const key = String(active.id)
    const home = homeOf(own, key)
    const order = keys.filter(k => k !== key)
    order.splice(keys.indexOf(String(over.id)), 0, key)
    reorder(
      home,
      order.filter(k => homeOf(own, k) === home),
    )
  }
  return (
    <DndContext id="plan" sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <Table.Root unstyled width="100%" fontSize="13px" css={gridStyle} aria-label="Tag plan">
        <thead>
          <tr>
            <Box as="th" width="150px">
              parameter
            </Box>
            {levelsOf(profile).map(level => (
              <th key={level} scope="col">
                {levelName(profile, level)}
                {profile.review_levels.includes(level) && (
                  <Text
                    as="span"
                    color="network"
                    title={`A change at this level sends the ad to review at ${profile.name} and resets its figures.`}
                  >
                    {' '}
                    · reviewed
                  </Text>
                )}
                <Text color="ink" truncate fontWeight="650" title={scopeNames[level]} maxWidth="150px">
                  {scopeNames[level]}
                </Text>
              </th>
            ))}
          </tr>
        </thead>
        <SortableContext items={keys} strategy={verticalListSortingStrategy}>
          <tbody>
            {keys.map(key => (
              <Fragment key={key}>
                <Row keyName={key} own={own} profile={profile} editing={editing} edit={edit} />
                {editing?.key === key && (
                  <tr>
                    <td colSpan={1 + levelsOf(profile).length} style={{ padding: 0 }}>
                      {editor}
                    </td>
                  </tr>
                )}
              </Fragment>
            ))}
          </tbody>
        </SortableContext>
      </Table.Root>
    </DndContext>
  )
}

const gridStyle = {
  tableLayout: 'fixed',
  borderCollapse: 'collapse',
  '& th': {
    textAlign: 'left',
    color: 'var(--chakra-colors-quiet)',
    fontWeight: 500,
    padding: '0 8px 4px 0',
    verticalAlign: 'top',
  },
  '& thead': { borderBottom: '1px solid var(--chakra-colors-ink)' },
  '& tbody tr': { borderBottom: '1px solid var(--chakra-colors-hairline)' },
} as const

function Row({
  keyName,
  own,
  profile,
  editing,
  edit,
}: {
  keyName: string
  own: Own
  profile: NetworkProfile
  editing: Cell | null
  edit: (cell: Cell) => void
}) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: keyName,
  })
  const removedAt = planLevels.find(level => own[level][keyName] === '')
  // A key without a value removes what stands above; where nothing does, it is new and waits for its value.
  const isNew = removedAt !== undefined && planLevels.every(level => !own[level][keyName])
  return (
    <tr
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition, opacity: isDragging ? 0.6 : 1 }}
    >
      <th scope="row" style={{ paddingTop: 6 }}>
        <Flex align="center" gap="1" fontFamily="mono" fontSize="12px" color="ink">
          <Button
            variant="ghost"
            aria-label={`Move ${keyName}`}
            cursor="grab"
            touchAction="none"
            flexShrink="0"
            {...attributes}
            {...listeners}
          >
            <GripVertical size={13} />
          </Button>
          <Text truncate title={keyName} textDecoration={removedAt && !isNew ? 'line-through' : undefined}>
            {keyName}
          </Text>
        </Flex>
      </th>
      {levelsOf(profile).map(level => (
        <CellBox
          key={level}
          cell={{ key: keyName, level }}
          holding={holdingAt(own, { key: keyName, level })}
          isNew={isNew}
          profile={profile}
          open={editing?.key === keyName && editing.level === level}
          edit={edit}
        />
      ))}
    </tr>
  )
}

/** Moves between cells with the arrow keys. */
function walk(event: KeyboardEvent<HTMLElement>) {
  const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key]
  const cell = event.currentTarget.closest('td')
  const row = cell?.parentElement
  const rows = [...(row?.parentElement?.querySelectorAll('tr') ?? [])].filter(r =>
    r.querySelector('[data-cell]'),
  )
  if (!by || !cell || !row) return
  event.preventDefault()
  const next = rows[rows.indexOf(row as HTMLTableRowElement) + by[0]!]
  next?.children[cell.cellIndex + by[1]!]?.querySelector<HTMLElement>('[data-cell]')?.focus()
}

function CellBox({
  cell,
  holding,
  isNew,
  profile,
  open,
  edit,
}: {
  cell: Cell
  holding: ReturnType<typeof holdingAt>
  /** whether its key was added and no level has given it a value yet */
  isNew: boolean
  profile: NetworkProfile
  open: boolean
  edit: (cell: Cell) => void
}) {
  const here = holding?.from === cell.level
  const said = !holding
    ? 'not set'
    : here
      ? holding.template === ''
        ? isNew
          ? 'no value yet'
          : 'removed here'
        : 'set here'
      : `inherited from ${levelName(profile, holding.from)}`
  return (
    <td style={{ padding: 0, verticalAlign: 'top' }}>
      <PlainButton
        className="plan-cell"
        data-cell
        data-here={here || undefined}
        aria-label={`${cell.key} at ${levelName(profile, cell.level)}: ${said}`}
        aria-expanded={open}
        onClick={() => edit(cell)}
        onKeyDown={walk}
      >
        {holding && here ? (
          holding.template === '' ? (
            isNew ? (
              <span className="inherited">no value yet</span>
            ) : (
              <span className="alarm">removed</span>
            )
          ) : (
            <Template template={holding.template} profile={profile} />
          )
        ) : holding && holding.template !== '' ? (
          <span className="inherited" title={said}>
            {parseTemplate(holding.template, profile.dialect).map((s, i) =>
              s.kind === 'literal' ? s.text : <u key={i}>{tokenWords(s.token, profile)}</u>,
            )}
          </span>
        ) : (
          <span className="inherited" aria-hidden>
            ·
          </span>
        )}
      </PlainButton>
    </td>
  )
}
