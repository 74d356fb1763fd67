'use client'
import { Button, Flex, Text } from '@chakra-ui/react'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { CheckField } from '../CheckField'
import { CopyButton } from '../Code'
import { Popped } from '../Popped'
import { type Column, headingOf, type Layout, moved } from './columns'

/** Chooses, orders and shares the columns of a table. */
export function ColumnsMenu({
  words,
  columns,
  layout,
  set,
  shared,
}: {
  words: string
  columns: readonly Pick<Column<never>, 'id' | 'heading'>[]
  layout: Layout
  /** null for the usual columns */
  set: (layout: Layout | null) => void
  shared: () => string
}) {
  const nameOf = (id: string) => headingOf(columns.find(c => c.id === id) ?? { id })
  const show = (id: string, shown: boolean) =>
    set({ ...layout, hidden: shown ? layout.hidden.filter(one => one !== id) : [...layout.hidden, id] })
  return (
    <Popped words={words} label="Columns" atEnd>
      {layout.order.map(id => (
        <Flex key={id} align="center" gap="1" justify="space-between" minWidth="220px">
          <CheckField
            label={nameOf(id)}
            value={!layout.hidden.includes(id)}
            disabled={!layout.hidden.includes(id) && layout.hidden.length === columns.length - 1}
            change={shown => show(id, shown)}
          />
          {!layout.hidden.includes(id) && (
            <Flex gap="1">
              <Button
                size="xs"
                aria-label={`${nameOf(id)} further left`}
                onClick={() => set(moved(layout, id, -1))}
              >
                <ArrowUp />
              </Button>
              <Button
                size="xs"
                aria-label={`${nameOf(id)} further right`}
                onClick={() => set(moved(layout, id, 1))}
              >
                <ArrowDown />
              </Button>
            </Flex>
          )}
        </Flex>
      ))}
      <Flex gap="2" mt="3">
        <Button onClick={() => set(null)}>As usual</Button>
        <CopyButton text={shared}>Copy an address with these</CopyButton>
      </Flex>
      <Text color="quiet" fontSize="12px" mt="2">
        Kept in this browser.
      </Text>
    </Popped>
  )
}
