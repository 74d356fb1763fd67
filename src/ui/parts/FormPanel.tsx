'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { zodResolver } from '@hookform/resolvers/zod'
import { type ReactNode, useEffect, useRef, useState, useTransition } from 'react'
import {
  type DefaultValues,
  type FieldValues,
  FormProvider,
  type Resolver,
  type UseFormReturn,
  useController,
  useForm,
} from 'react-hook-form'
import type { z } from 'zod'
import type { Clash, Saved } from '@/core/shared/mergeEdit'
import { type Given, NamedFields } from './Fields'
import { problemOf } from './problems'
import { SidePanel } from './SidePanel'
import { NOT_DONE, undoable } from './undo'

interface FormPanelProps<Values extends FieldValues> {
  title: string
  /** by which it is known to whoever hears it, where that is not the title */
  label?: string
  schema: z.ZodType
  given: Values
  /** what of it is judged and kept, where that is not all that the fields hold */
  shape?: (draft: Values) => Values
  keepWords: string
  /** keeps the values, given what they began with; `over` also what somebody else changed meanwhile */
  // biome-ignore lint/suspicious/noConfusingVoidType: whoever has nothing to say returns nothing
  save: (values: Values, before: Values, over?: boolean) => Promise<Saved> | void
  close: () => void
  /** what is said once it is kept, where that can be undone by keeping what was given */
  kept?: string | false | null | undefined
  also?: ReactNode
  /** why it cannot be kept as it is now */
  blocked?: (draft: Values) => string | false | null | undefined
  /** whether something that must be known first is on its way */
  waits?: boolean
  width?: number
  /** what stands below the form and is no part of it */
  after?: ReactNode
  children: (draft: Values, form: UseFormReturn<Values>) => ReactNode
}

/** What was typed into forms that were left for something else, by what they began with. */
const leftBehind = new Map<string, object>()

/**
 * A form beside a screen. Its fields are named by where their values stand in what is kept, which the schema
 * judges: a wrong one says so beside itself. Ctrl+Enter keeps it. Leaving it asks once; where something else was
 * opened in its place, what was typed is there again when it is opened next.
 *
 * @param given what it begins with
 * @param save keeps the values; says what is wrong, or null
 * @param also buttons besides those that keep and leave it
 */
export function FormPanel<Values extends FieldValues>(props: FormPanelProps<Values>) {
  const key = `${props.title} ${JSON.stringify(props.given)}`
  const [begun, begin] = useState(() => ({ round: 0, from: leftBehind.get(key) as Values | undefined }))
  return (
    <OpenForm
      {...props}
      key={begun.round}
      own={key}
      before={begun.from}
      anew={() => {
        leftBehind.delete(key)
        begin({ round: begun.round + 1, from: undefined })
      }}
    />
  )
}

function OpenForm<Values extends FieldValues>({
  title,
  label,
  schema,
  given,
  shape,
  keepWords,
  save,
  close,
  kept,
  also,
  blocked,
  waits = false,
  width,
  after,
  children,
  own,
  before,
  anew,
}: FormPanelProps<Values> & {
  /** under which what was typed is remembered */
  own: string
  /** what was typed when it was left */
  before: Values | undefined
  /** begins with what was given */
  anew: () => void
}) {
  const judged = zodResolver(schema as never, { error: problemOf }) as unknown as Resolver<Values>
  const form = useForm<Values>({
    defaultValues: (before ?? given) as DefaultValues<Values>,
    resolver: (typed, context, options) => {
      const draft = filled(typed)
      return judged(shape?.(draft) ?? draft, context, options)
    },
    mode: 'onTouched',
  })
  const [problem, setProblem] = useState('')
  const [clashes, setClashes] = useState<Clash[]>([])
  const [busy, start] = useTransition()
  const changed = form.formState.isDirty || before !== undefined
  const draft = filled(form.watch())
  const hindered = blocked?.(draft)
  useLeavingAsks(changed)
  const [leaving, setLeaving] = useState(false)
  const done = useRef(false)
  const end = () => {
    done.current = true
    leftBehind.delete(own)
    close()
  }
  const leave = () => (changed && !leaving ? setLeaving(true) : end())
  const typed = useRef<Values | null>(null)
  typed.current = changed ? draft : null
  useEffect(
    () => () => {
      if (typed.current && !done.current) leftBehind.set(own, structuredClone(typed.current))
    },
    [own],
  )
  const begunWith = () => shape?.(given) ?? given
  const keepAs = (over: boolean) =>
    form.handleSubmit(
      values =>
        start(async () => {
          const typed = values as Values
          const saved = await (async () => save(typed, begunWith(), over))().catch(() => NOT_DONE)
          setProblem(typeof saved === 'string' ? saved : '')
          setClashes(saved && typeof saved === 'object' ? saved.clashes : [])
          if (saved) return
          if (kept)
            undoable(kept, async () => {
              const undone = await save(begunWith(), typed)
              return undone && typeof undone === 'object' ? CHANGED_SINCE : undone
            })
          end()
        }),
      errors => setProblem(besideNone(errors) ?? ''),
    )
  const keep = keepAs(false)
  return (
    <SidePanel title={title} close={leave} width={width} label={label}>
      {leaving && (
        <Flex role="alert" gap="2" align="center" wrap="wrap" bg="mark" p="2" mb="2">
          What you changed here is not kept.
          <Button onClick={end}>Leave it</Button>
          <Button onClick={() => setLeaving(false)}>Go on with it</Button>
        </Flex>
      )}
      {before && !leaving && (
        <Flex role="status" gap="2" align="center" wrap="wrap" bg="mark" p="2" mb="2">
          What you typed before is here again.
          <Button onClick={anew}>As it was</Button>
        </Flex>
      )}
      <FormProvider {...form}>
        <NamedFields value={useNamed}>
          <form
            noValidate
            onSubmit={event => void keep(event)}
            onKeyDown={event => {
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void keep(event)
            }}
          >
            {children(draft, form)}
            {(hindered || problem) && (
              <Text role="alert" color="alarm" mt="2" whiteSpace="pre-wrap">
                {hindered || problem}
              </Text>
            )}
            {clashes.length > 0 && (
              <Clashes of={clashes} busy={busy} mine={() => void keepAs(true)()} theirs={end} />
            )}
            <Flex gap="2" mt="3" wrap="wrap">
              <Button
                type="submit"
                variant="solid"
                disabled={busy || waits || Boolean(hindered)}
                title="Ctrl+Enter"
              >
                {keepWords}
              </Button>
              {also}
            </Flex>
          </form>
        </NamedFields>
      </FormProvider>
      {after}
    </SidePanel>
  )
}

const CHANGED_SINCE = 'somebody else has changed the same field since.'

const fieldWords = (at: string) => at.replaceAll('_', ' ').replaceAll('.', ', ')
const valueWords = (value: unknown) =>
  value === null || value === ''
    ? 'nothing'
    : typeof value === 'object'
      ? JSON.stringify(value)
      : String(value)

/** What somebody else changed while this was being edited, to choose from. */
function Clashes({
  of,
  busy,
  mine,
  theirs,
}: {
  of: readonly Clash[]
  busy: boolean
  mine: () => void
  theirs: () => void
}) {
  return (
    <Box role="alert" bg="mark" p="2" mt="2">
      <Text fontWeight="650">Somebody else changed this while you were editing.</Text>
      {of.map(({ at, now, mine }) => (
        <Text key={at} overflowWrap="anywhere">
          {fieldWords(at)}: now {valueWords(now)}, yours {valueWords(mine)}
        </Text>
      ))}
      <Flex gap="2" mt="2">
        <Button disabled={busy} onClick={mine}>
          Save mine
        </Button>
        <Button disabled={busy} onClick={theirs}>
          Keep theirs
        </Button>
      </Flex>
    </Box>
  )
}

/** Asks before the page is left while something is typed that nobody keeps. */
function useLeavingAsks(when: boolean) {
  useEffect(() => {
    if (!when) return
    const ask = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [when])
}

/** A field that was emptied holds null in the form, which would take undefined for what it began with. */
function filled<Value>(value: Value): Value {
  if (value === null) return undefined as Value
  if (Array.isArray(value)) return value.map(filled) as Value
  if (typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([key, own]) => [key, filled(own)])) as Value
}

/** What is wrong where no field stands to say so. */
function besideNone(errors: object, path = ''): string | null {
  for (const [key, error] of Object.entries(errors)) {
    if (typeof error !== 'object' || error === null || key === 'ref') continue
    const at = path ? `${path}.${key}` : key
    if ('message' in error && typeof error.message === 'string')
      return 'ref' in error && error.ref
        ? null
        : 'type' in error && error.type === 'custom'
          ? error.message
          : `${at}: ${error.message}`
    const below = besideNone(error, at)
    if (below) return below
  }
  return null
}

function useNamed(name: string): Given {
  const { field, fieldState } = useController({ name })
  return {
    value: field.value ?? undefined,
    change: value => field.onChange(value ?? null),
    left: field.onBlur,
    control: field.ref,
    problem: fieldState.error?.message,
  }
}
