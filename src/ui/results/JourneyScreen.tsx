'use client'
import { Box, Button, Flex, Input, Text } from '@chakra-ui/react'
import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { useState, useTransition } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { newId } from '@/core/shared/newId'
import { type Journey, type Step, stepBefore, stepRates } from '@/core/signals/journey'
import type { WalkedJourney } from '@/server/signals/journey'
import { count, money, smallPercent, UNKNOWN } from '../format'
import { Select } from '../parts/Fields'
import { PartNav } from '../parts/PartNav'
import { useScope } from '../shell/useScope'
import { CampaignSteps } from './CampaignSteps'
import { type Named, StepForm } from './StepForm'
import { type StepFigures, StepRow } from './StepRow'

export interface JourneyActions {
  keep: (journey: Journey) => Promise<string | null>
  drop: (id: string) => Promise<void>
}
/** The journey that was taken away last: it outlives the screen, which then shows another one. */
let takenAway: Journey | null = null

/** A journey: its steps with counts, step rates and costs, where most are lost, and the same by campaign. */
export function JourneyScreen({
  journeys,
  missing,
  chosen,
  walked,
  results,
  actions,
}: {
  journeys: Named[]
  /** the journey that the address asks for and that is not there */
  missing: string | null
  chosen: Journey | null
  walked: WalkedJourney | null
  results: Named[]
  actions: JourneyActions
}) {
  const { set } = useScope()
  const [steps, setSteps] = useState(chosen?.steps ?? [])
  const [past, setPast] = useState<Step[][]>([])
  const [editing, setEditing] = useState<string | null>(null)
  /** the name of a journey to be drawn; null while none is */
  const [naming, setNaming] = useState<string | null>(null)
  const [problem, setProblem] = useState('')
  const [busy, start] = useTransition()
  const stored = JSON.stringify(chosen?.steps ?? [])
  const [seen, setSeen] = useState(stored)
  if (stored !== seen) {
    // Somebody else changed them; what is being changed here is stored on top of that.
    setSeen(stored)
    if (!busy && chosen) setSteps(chosen.steps)
  }
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )

  const keep = (next: Step[], before: Step[][] = [...past, steps]) => {
    if (!chosen) return
    setSteps(next)
    setPast(before)
    start(async () => setProblem((await actions.keep({ ...chosen, steps: next })) ?? ''))
  }
  const undo = () => {
    const before = past.at(-1)
    if (before) keep(before, past.slice(0, -1))
  }
  useHotkeys('u', undo, [past])
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const at = (id: string | number) => steps.findIndex(s => s.id === id)
    keep(arrayMove(steps, at(active.id), at(over.id)))
  }
  const add = () => {
    const [first] = results
    const name = naming?.trim()
    if (!name || !first) return
    if (journeys.some(j => j.name.trim().toLowerCase() === name.toLowerCase()))
      return setProblem('A journey of this name is there already.')
    const made: Journey = {
      id: newId(
        name,
        journeys.map(j => j.id),
        'journey',
      ),
      name,
      steps: [
        { id: 'arrival', name: 'Arrival', by: { on: 'page', where: { any: [], none: [] } }, optional: false },
        { id: first.id, name: first.name, by: { on: 'result', result: first.id }, optional: false },
      ],
    }
    start(async () => {
      const wrong = await actions.keep(made)
      if (wrong) setProblem(wrong)
      else {
        setNaming(null)
        set({ journey: made.id })
      }
    })
  }

  const step = steps.find(s => s.id === editing)
  return (
    <Flex height="100%">
      <Box flex="1" minWidth="0" overflowY="auto" px="5" pt="4" pb="8">
        <PartNav here="/results/journey" />
        <Text as="h1" fontSize="19px" maxWidth="62rem">
          {chosen && walked
            ? said(walked)
            : 'A journey is the way to a result: an arrival, the pages between, and the result itself. Draw one to see at which step shoppers are lost.'}
        </Text>
        <Flex gap="2" mt="2" fontSize="13px" align="center">
          {journeys.length > 0 && (
            <Select
              aria-label="Journey"
              value={chosen?.id ?? ''}
              onChange={event => set({ journey: event.target.value })}
            >
              {journeys.map(j => (
                <option key={j.id} value={j.id}>
                  {j.name}
                </option>
              ))}
            </Select>
          )}
          {naming === null ? (
            <Button onClick={() => setNaming('')} disabled={busy || results.length === 0}>
              {journeys.length > 0 ? 'Draw another' : 'Draw a journey'}
            </Button>
          ) : (
            <Input
              width="auto"
              aria-label="Name of the new journey"
              placeholder="its name, then Enter"
              ref={field => field?.focus()}
              value={naming}
              onChange={event => setNaming(event.target.value)}
              onKeyDown={event => {
                if (event.key === 'Enter') add()
                if (event.key === 'Escape') setNaming(null)
              }}
              onBlur={() => naming.trim() === '' && setNaming(null)}
            />
          )}
          {chosen && (
            <Button
              disabled={busy}
              onClick={() =>
                start(async () => {
                  takenAway = { ...chosen, steps }
                  await actions.drop(chosen.id)
                  set({ journey: null })
                })
              }
            >
              Take it away
            </Button>
          )}
          {takenAway && takenAway.id !== chosen?.id && !journeys.some(j => j.id === takenAway?.id) && (
            <Button
              disabled={busy}
              onClick={() =>
                start(async () => {
                  const back = takenAway
                  takenAway = null
                  if (!back) return
                  setProblem((await actions.keep(back)) ?? '')
                  set({ journey: back.id })
                })
              }
            >
              Bring “{takenAway.name}” back
            </Button>
          )}
          {past.length > 0 && (
            <Button onClick={undo}>
              Undo <kbd>u</kbd>
            </Button>
          )}
          <Text color={problem ? 'alarm' : 'quiet'} role="status">
            {problem || (busy ? 'Working it out …' : missing ? `There is no journey ${missing}.` : '')}
          </Text>
        </Flex>
        {chosen && walked && (
          <>
            <DndContext
              id="steps"
              sensors={sensors}
              collisionDetection={closestCenter}
              onDragEnd={drop}
              accessibility={{ announcements: announce(steps) }}
            >
              <SortableContext items={steps} strategy={verticalListSortingStrategy}>
                <Flex gap="3" mt="4" maxWidth="62rem" fontSize="13px" color="quiet" aria-hidden>
                  <Box width="15px" />
                  <Text width="150px">step</Text>
                  <Text flex="1">shoppers who reached it</Text>
                  <Text width="190px">went on from the step before</Text>
                  <Text width="92px" />
                  <Text width="112px" textAlign="right">
                    each cost
                  </Text>
                </Flex>
                <Box as="ol" mt="1" maxWidth="62rem" listStyleType="none" aria-label="Steps">
                  {steps.map(one => (
                    <StepRow
                      key={one.id}
                      step={one}
                      figures={figuresOf(one, walked)}
                      weakest={weakestAt(one, walked)}
                      open={() => setEditing(one.id)}
                    />
                  ))}
                </Box>
              </SortableContext>
            </DndContext>
            <Flex gap="2" mt="2" fontSize="13px" align="center">
              <Button
                disabled={busy || steps.length >= 12}
                onClick={() => {
                  const id = `s${Date.now().toString(36)}`
                  const where = { any: [{ by: 'starts_with' as const, text: '/' }], none: [] }
                  const made: Step = { id, name: 'A page', by: { on: 'page', where }, optional: false }
                  keep([...steps.slice(0, -1), made, ...steps.slice(-1)])
                  setEditing(id)
                }}
              >
                Add a step
              </Button>
              <Text color="quiet">
                Drag a step by its handle, or with the handle chosen press Space, ↑ or ↓, and Space again.
              </Text>
            </Flex>
            <CampaignSteps walked={walked} />
          </>
        )}
      </Box>
      {chosen && step && (
        <StepForm
          key={step.id}
          step={step}
          results={results}
          keep={next => keep(steps.map(s => (s.id === next.id ? next : s)))}
          remove={
            steps.length > 2
              ? () => {
                  keep(steps.filter(s => s.id !== step.id))
                  setEditing(null)
                }
              : null
          }
          close={() => setEditing(null)}
        />
      )}
    </Flex>
  )
}

/** What is said to those who do not see a step move. */
function announce(steps: readonly Step[]): Announcements {
  const name = (id: string | number | undefined) => steps.find(s => s.id === id)?.name ?? ''
  return {
    onDragStart: ({ active }) => `${name(active.id)} is taken up.`,
    onDragOver: ({ active, over }) => `${name(active.id)} is at the place of ${name(over?.id)}.`,
    onDragEnd: ({ active, over }) => `${name(active.id)} stands at the place of ${name(over?.id)} now.`,
    onDragCancel: ({ active }) => `${name(active.id)} stands where it stood.`,
  }
}

/** A step's figures by the way that was walked last: one that is new since has none yet. */
function figuresOf(step: Step, { steps, whole, before, currency }: WalkedJourney): StepFigures {
  const i = steps.findIndex(s => s.id === step.id)
  if (i < 0) return { count: null, share: 0, before: '', rate: null, usual: null, cost: null, currency }
  const from = stepBefore(steps, i)
  const reached = whole.counts[i] ?? 0
  return {
    count: reached,
    share: whole.counts[0] ? reached / Math.max(...whole.counts) : 0,
    before: from < 0 ? null : steps[from]!.name,
    rate: stepRates(steps, whole.counts)[i] ?? null,
    usual: before ? (stepRates(steps, before)[i] ?? null) : null,
    cost: reached > 0 && whole.spend ? whole.spend / reached : null,
    currency,
  }
}

const weakestAt = (step: Step, { steps, whole: { weakest } }: WalkedJourney) =>
  weakest && steps[weakest.step]?.id === step.id ? weakest.because : null

/** The journey in a sentence of live figures. */
function said({ steps, whole, before, currency }: WalkedJourney): string {
  const [first, last] = [whole.counts[0] ?? 0, whole.counts.at(-1) ?? 0]
  if (first === 0)
    return 'Nobody who came by an ad of this scope was seen on the first step in this period. Choose another period, or look in Signals whether the tag is heard.'
  const cost = last > 0 && whole.spend ? money(whole.spend / last, currency) : UNKNOWN
  const lead = `Of ${count(first)} shoppers who came by an ad, ${count(last)} came to ${steps.at(-1)!.name.toLowerCase()}, at ${cost} ${currency} each.`
  const { weakest } = whole
  if (!weakest) return lead
  const from = steps[stepBefore(steps, weakest.step)]!.name
  const rate = stepRates(steps, whole.counts)[weakest.step] ?? null
  const usual = before ? (stepRates(steps, before)[weakest.step] ?? null) : null
  return `${lead} The weakest step is ${from} → ${steps[weakest.step]!.name}, ${smallPercent(rate)}${
    weakest.because === 'below_usual'
      ? `; it was ${smallPercent(usual)} in the days before`
      : ', where most are lost'
  }.`
}
