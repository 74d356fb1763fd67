'use client'
import { Button, Dialog, Flex, Portal, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { useFormats } from '../../format'
import { LongTextField, TextField } from '../../parts/Fields'
import { useResultWords } from '../../shell/ResultWords'
import { factorWords } from './PlanCell'
import { planStore } from './planStore'
import type { Plan } from './usePlan'

const NAME_KEY = 'name of who decides'
/** So many moves are listed before they are made. */
const LISTED = 8

/** Says who decides, and why, and makes the plan into moves. */
export function MakeMoves({
  plan,
  nameOf,
  days,
  query,
  close,
}: {
  plan: Plan
  nameOf: (path: readonly string[]) => string
  days: number
  query: string
  close: () => void
}) {
  const router = useRouter()
  const { tenths, count } = useFormats()
  const words = useResultWords()
  const [by, setBy] = useState(() => {
    try {
      return localStorage.getItem(NAME_KEY) ?? ''
    } catch {
      return ''
    }
  })
  const [why, setWhy] = useState('')
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState('')
  const { draft, planned, today } = plan
  const factors = draft.factors.map(([key, factor]) => ({ path: JSON.parse(key) as string[], factor }))
  const make = async () => {
    setBusy(true)
    try {
      localStorage.setItem(NAME_KEY, by)
    } catch {
      // The name is asked for again next time.
    }
    const answer = await fetch(`/api/moves?${query}`, {
      method: 'POST',
      headers: { 'x-aequant': '1', 'content-type': 'application/json' },
      body: JSON.stringify({ by, why, factors, ...draft.rules }),
    }).catch(() => null)
    const said = await answer?.json().catch(() => null)
    setBusy(false)
    if (!answer?.ok) return setProblem(said?.error ?? 'The application does not answer: nothing was made.')
    planStore.set({ ...planStore.now(), factors: [] })
    router.push(`/weigh/moves?${query}`)
  }
  return (
    <Dialog.Root open onOpenChange={change => !change.open && close()} size="md">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <Dialog.Header>
              <Dialog.Title>Make these moves</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body fontSize="13px">
              {factors.slice(0, LISTED).map(({ path, factor }) => (
                <Text key={path.join('/')}>
                  {nameOf(path)}: {factorWords(factor)}
                </Text>
              ))}
              {factors.length > LISTED && (
                <Text color="quiet">and {count(factors.length - LISTED)} more</Text>
              )}
              {planned && today && (
                <Text mt="2">
                  {words(
                    `Expected in ${count(days)} days like these: ${tenths(planned.sums.tenths / 10)} orders in place of ${tenths(today.tenths / 10)}.`,
                  )}{' '}
                  <Text as="span" color="quiet">
                    From tomorrow on it is held against what happens.
                  </Text>
                </Text>
              )}
              <TextField label="Who decides" value={by} change={setBy} placeholder="your name" />
              <LongTextField label="Why" value={why} change={setWhy} rows={2} />
              <Text color="quiet" mt="2">
                Nothing is sent anywhere yet: a change sheet for each network, or applying it to a practice
                network, comes next.
              </Text>
              {problem && (
                <Text role="alert" color="alarm" mt="2">
                  {problem}
                </Text>
              )}
            </Dialog.Body>
            <Dialog.Footer>
              <Flex gap="2">
                <Button onClick={close}>Not now</Button>
                <Button variant="solid" disabled={busy} onClick={() => void make()}>
                  Keep as moves
                </Button>
              </Flex>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
