'use client'
import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { ofNetworks, type Removable, type Removal } from '@/core/intake/removal'
import { useFormats } from '../format'
import { AskButton } from '../parts/AskButton'
import { CheckField } from '../parts/CheckField'
import { SelectField } from '../parts/Fields'
import { Note, Said } from '../parts/Page'
import { undoable } from '../parts/undo'
import { usePreview } from '../parts/usePreview'
import { useSending } from '../parts/useSending'

const kinds: Record<Removable, string> = {
  orders: 'orders and partners’ sales',
  reports: 'what networks reported: spend and claims',
  clicks: 'ad clicks',
  events: 'pages, events, hops and postbacks',
  aside: 'what is set aside',
}

export interface RemovalActions {
  preview: (removal: Removal) => Promise<Partial<Record<Removable, number>>>
  remove: (removal: Removal) => Promise<string>
  bringBack: (removed: string) => Promise<void>
}

/** Removes what was taken in: says how much before, and brings it back after. */
export function RemovalPart({
  period,
  network,
  cut,
  keptDays,
  actions,
}: {
  period: { from: string; to: string }
  network: string | null
  /** period and network in words */
  cut: string
  keptDays: number
  actions: RemovalActions
}) {
  const { count } = useFormats()
  const [chosen, setChosen] = useState<readonly Removable[]>([])
  const [of, setOf] = useState<'cut' | 'all'>('cut')
  const [busy, send] = useSending()
  const [round, setRound] = useState(0)
  const own = chosen.filter(kind => of === 'all' || !network || ofNetworks.includes(kind))
  const removal: Removal = {
    kinds: own,
    ...(of === 'cut' && { ...period, ...(network && { network }) }),
  }
  // Asked again once something was removed.
  const asked = usePreview(
    own.length > 0 ? { ...removal, round } : null,
    actions.preview as never,
  ) as Partial<Record<Removable, number>> | null
  const counts = own.length > 0 ? asked : null
  const sum = own.reduce((all, kind) => all + (counts?.[kind] ?? 0), 0)
  const remove = () =>
    send(async () => {
      const removed = await actions.remove(removal)
      setRound(round + 1)
      undoable(`${count(sum)} records are removed.`, () =>
        actions.bringBack(removed).then(() => setRound(r => r + 1)),
      )
    })
  return (
    <>
      <Flex gap="4" mt="2" wrap="wrap" align="center">
        {(Object.keys(kinds) as Removable[]).map(kind => (
          <CheckField
            key={kind}
            label={kinds[kind]}
            value={chosen.includes(kind)}
            disabled={of === 'cut' && network !== null && !ofNetworks.includes(kind)}
            change={on => setChosen(on ? [...chosen, kind] : chosen.filter(one => one !== kind))}
          />
        ))}
      </Flex>
      <Flex gap="3" mt="2" align="center" wrap="wrap" fontSize="13px">
        <SelectField
          unseen
          label="Of which days"
          value={of}
          change={chosen => setOf(chosen === 'all' ? 'all' : 'cut')}
          choices={[
            ['cut', cut],
            ['all', 'all days and networks'],
          ]}
        />
        <AskButton
          disabled={busy || sum === 0}
          asks={`${own
            .map(kind => `${count(counts?.[kind] ?? 0)} of ${kinds[kind]}`)
            .join('; ')}. Figures go on without them.`}
          act={remove}
        >
          Remove them
        </AskButton>
        {counts && (
          <Text aria-live="polite">
            {sum === 0 ? 'Nothing of that is held.' : `${count(sum)} records would go.`}
          </Text>
        )}
      </Flex>
      <Said busy={busy && 'Removing …'} />
      <Note>
        What is removed can be brought back for twenty seconds here, and is gone for good after {keptDays}{' '}
        days. Networks, results, rules and names stay.
      </Note>
    </>
  )
}
