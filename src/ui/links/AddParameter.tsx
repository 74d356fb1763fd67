import { Button, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels } from '@/core/links/profile'
import { Select } from '../parts/Fields'
import { levelName } from './linkWords'

/** Begins a parameter at a level; its value is written in the grid. */
export function AddParameter({
  profile,
  taken,
  add,
}: {
  profile: NetworkProfile
  taken: (key: string, level: PlanLevel) => boolean
  add: (key: string, level: PlanLevel) => void
}) {
  const [key, setKey] = useState('')
  const [level, setLevel] = useState<PlanLevel>('account')
  const known = taken(key.trim(), level)
  return (
    <Flex
      as="form"
      mt="2"
      gap="2"
      align="center"
      fontSize="13px"
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault()
        if (!key.trim() || known) return
        add(key.trim(), level)
        setKey('')
      }}
    >
      <Input
        width="auto"
        aria-label="New parameter"
        placeholder="utm_… or any key"
        value={key}
        maxLength={200}
        onChange={e => setKey(e.target.value)}
        fontFamily="mono"
        fontSize="12px"
      />
      <span>at</span>
      <Select
        aria-label="Set the new one at"
        value={level}
        onChange={e => setLevel(planLevels.find(l => l === e.target.value) ?? 'account')}
      >
        {levelsOf(profile).map(l => (
          <option key={l} value={l}>
            {levelName(profile, l)}
          </option>
        ))}
      </Select>
      <Button type="submit">Add parameter</Button>
      {known && (
        <Text fontSize="12px" color="alarm">
          It is set at this level already.
        </Text>
      )}
    </Flex>
  )
}
