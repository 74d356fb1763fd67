'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
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
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { newId } from '@/core/shared/newId'
import { type Journey, type Step, stepBefore, stepRates } from '@/core/signals/journey'
import type { WalkedJourney } from '@/server/signals/journey'
import { type Formats, UNKNOWN, useFormats } from '../format'
import { SelectField, TextField } from '../parts/Fields'
import { Note, Page } from '../parts/Page'
import { undoable } from '../parts/undo'
import { useSending } from '../parts/useSending'
import { useScope } from '../shell/useScope'
import { CampaignSteps } from './CampaignSteps'
import type { Named } from './StepForm'
import { type StepFigures, StepRow } from './StepRow'

const StepForm = dynamic(() => import('./StepForm').then(m => m.StepForm), { ssr: false })

export interface JourneyActions {
  keep: (journey: Journey) => Promise<string | null>
  drop: (id: string) => Promise<void>
}
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
  const formats = useFormats()
  const { set } = useScope()
  const [steps, setSteps] = useState(chosen?.steps ?? [])
  const [editing, setEditing] = useState<string | null>(null)
  /** the name of a journey to be drawn; null while none is */
  const [naming, setNaming] = useState<string | null>(null)
  const [problem, setProblem] = useState('')
  const [busy, send] = useSending()
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

  const store = (next: Step[]) => {
    if (!chosen) return
    setSteps(next)
    send(async () => setProblem((await actions.keep({ ...chosen, steps: next })) ?? ''))
  }
  const keep = (next: Step[]) => {
    store(next)
    undoable(`The journey “${chosen?.name}” is changed.`, () => store(steps))
  }
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
    send(async () => {
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
    <Page
      at="/results/journey"
      says={
        chosen && walked
          ? said(walked, formats)
          : 'A journey is the way to a result: an arrival, the pages between, and the result itself. Draw one to see at which step shoppers are lost.'
      }
      actions={
        <>
          {journeys.length > 0 && (
            <SelectField
              unseen
              label="Journey"
              value={chosen?.id ?? ''}
              change={journey => set({ journey })}
              choices={journeys.map(j => [j.id, j.name])}
            />
          )}
          {naming === null ? (
            <Button onClick={() => setNaming('')} disabled={busy || results.length === 0}>
              {journeys.length > 0 ? 'Draw another' : 'Draw a journey'}
            </Button>
          ) : (
            <TextField
              unseen
              label="Name of the new journey"
              placeholder="its name, then Enter"
              value={naming}
              change={setNaming}
              enter={add}
              left={() => naming.trim() === '' && setNaming(null)}
              input={{ autoFocus: true, onKeyDown: event => event.key === 'Escape' && setNaming(null) }}
            />
          )}
          {chosen && (
            <Button
              disabled={busy}
              onClick={() =>
                send(async () => {
                  const gone = { ...chosen, steps }
                  await actions.drop(chosen.id)
                  undoable(`The journey “${gone.name}” is taken away.`, () =>
                    send(async () => {
                      setProblem((await actions.keep(gone)) ?? '')
                      set({ journey: gone.id })
                    }),
                  )
                  set({ journey: null })
                })
              }
            >
              Take it away
            </Button>
          )}
          <Text color={problem ? 'alarm' : 'quiet'} role="status">
            {problem || (busy ? 'Working it out …' : missing ? `There is no journey ${missing}.` : '')}
          </Text>
        </>
      }
      beside={
        chosen &&
        step && (
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
        )
      }
    >
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
                  cost per shopper seen
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
          <Note>{seenWords(walked, formats)}</Note>
          <CampaignSteps walked={walked} />
        </>
      )}
    </Page>
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
  if (i < 0)
    return { count: null, share: 0, flow: [0, 0], before: '', rate: null, usual: null, cost: null, currency }
  const from = stepBefore(steps, i)
  const reached = whole.counts[i] ?? 0
  const most = Math.max(...whole.counts)
  const shareAt = (at: number) => (most > 0 ? (whole.counts[at] ?? 0) / most : 0)
  const beyond = steps[i + 1]?.optional ? (step.optional ? from : i) : i + 1
  const next = beyond < steps.length ? beyond : -1
  return {
    count: reached,
    share: shareAt(i),
    flow: [shareAt(step.optional ? from : i), shareAt(next < 0 ? i : next)],
    before: from < 0 ? null : steps[from]!.name,
    rate: stepRates(steps, whole.counts)[i] ?? null,
    usual: before ? (stepRates(steps, before)[i] ?? null) : null,
    cost: reached > 0 && whole.spend ? whole.spend / reached : null,
    currency,
  }
}

const weakestAt = (step: Step, { steps, whole: { weakest } }: WalkedJourney) =>
  weakest && steps[weakest.step]?.id === step.id ? weakest.because : null

/** What costs of steps are of: shoppers who were seen, and the campaigns that these came by. */
function seenWords({ campaigns, currency }: WalkedJourney, { money, count }: Formats): string {
  const seen =
    'Costs are per shopper seen on the site. Consent and blockers hide others, so the true cost of a step is lower.'
  const unseen = campaigns.filter(one => one.counts === null)
  if (unseen.length === 0) return seen
  const spend = unseen.reduce((sum, one) => sum + (one.spend ?? 0), 0)
  return `${seen} ${count(unseen.length)} ${
    unseen.length === 1 ? 'campaign has' : 'campaigns have'
  } billed clicks but no shopper seen. ${money(spend, currency)} ${currency} of spend is left out for that.`
}

/** The journey in a sentence of live figures. */
function said(
  { steps, whole, before, currency }: WalkedJourney,
  { count, money, smallPercent }: Formats,
): string {
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
