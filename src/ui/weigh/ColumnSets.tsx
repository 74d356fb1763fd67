'use client'
import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { TextField } from '../parts/Fields'
import { Popped } from '../parts/Popped'
import { keepLayout, keptLayout } from '../parts/table/useLayout'
import { keepOwnSets } from './columnSets'
import type { ColumnSetChoice } from './useColumnSet'

/** Names the columns as they are now, so that they can be chosen again; removes one's own. */
export function ColumnSets({ words, sets }: { words: string; sets: ColumnSetChoice }) {
  const [name, setName] = useState('')
  const [open, setOpen] = useState(true)
  const keep = () => {
    const called = name.trim().slice(0, 60)
    if (!called) return
    const layout = keptLayout(`weigh-${sets.asked}`)
    const next = [
      ...sets.own.filter(one => one.name !== called),
      { name: called, from: sets.from, columns: layout },
    ]
    keepLayout(`weigh-own.${called}`, layout)
    keepOwnSets(next)
    sets.setOwn(next)
    sets.choose(`own.${called}`)
    setName('')
    setOpen(false)
  }
  const remove = () => {
    const next = sets.own.filter(one => one !== sets.mine)
    keepOwnSets(next)
    sets.setOwn(next)
    sets.choose('orders')
    setOpen(false)
  }
  return (
    <Popped words={words} label="Keep these columns" open={open} setOpen={setOpen}>
      <TextField label="Name of these columns" value={name} change={setName} enter={keep} />
      <Flex gap="2" mt="3">
        <Button variant="solid" disabled={name.trim() === ''} onClick={keep}>
          Keep them
        </Button>
        {sets.mine && <Button onClick={remove}>Remove “{sets.mine.name}”</Button>}
      </Flex>
      <Text color="quiet" fontSize="12px" mt="2" maxWidth="260px">
        Kept in this browser. To send them to somebody, copy an address with them under Columns.
      </Text>
    </Popped>
  )
}
