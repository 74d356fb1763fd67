import { type LinkChange, scopeKey, undoing } from '@/core/links/change'
import { type Met, onTopOf } from '@/core/links/rebase'
import type { AdArrivals } from '@/core/links/survey'
import { type HeldStation, openStation, withChanges } from './station'

const SAVE_AFTER_MS = 400
const TRY_AGAIN_MS = 5000
const LOOK_AGAIN_MS = 20_000

/** What the screen says of its last deed. */
export interface Said {
  text: string
  bad: boolean
}

/** One step that can be undone. */
interface Done {
  changes: LinkChange[]
  /** changes under the same name belong to one step: letters typed into one field */
  under: string | null
}

export interface StationState {
  held: HeldStation | null
  /** what arrived of each ad's parameters, by `network/ad`; null before the first answer */
  arrived: Record<string, AdArrivals> | null
  /** why nothing could be fetched */
  problem: string | null
  said: Said
  saving: boolean
  /** how many steps can be undone */
  steps: number
  /** what somebody else had changed meanwhile, until it is read */
  met: readonly Met[]
}

/** The server, as the station sees it. */
export interface StationServer {
  /** the station's data as JSON text */
  fetch: () => Promise<string>
  /** null when it does not answer */
  fetchArrived: () => Promise<Record<string, AdArrivals> | null>
  /**
   * Done when they are on disk; fails with why in words. Tells what somebody else had changed meanwhile, so
   * that what is held here is not what is stored.
   */
  store: (changes: readonly LinkChange[]) => Promise<Met[]>
}

const nothingSaid: Said = { text: '', bad: false }
export const emptyState: StationState = {
  held: null,
  arrived: null,
  problem: null,
  said: nothingSaid,
  saving: false,
  steps: 0,
  met: [],
}

const targetOf = (change: LinkChange) =>
  change.what === 'plan' ? scopeKey(change) : `${change.network}/${change.ad}`

/** Later changes joined to earlier ones of the same entities: first before, last after. */
function join(earlier: readonly LinkChange[], later: readonly LinkChange[]): LinkChange[] {
  const joined = new Map(earlier.map(change => [targetOf(change), change]))
  for (const change of later) {
    const known = joined.get(targetOf(change))
    joined.set(targetOf(change), known ? ({ ...change, before: known.before } as LinkChange) : change)
  }
  return [...joined.values()]
}

const wordsOf = (error: unknown) => (error instanceof Error ? error.message : String(error))

/**
 * The station's ads and plans outside of any screen. Changes show at once, are stored a moment later, and
 * can be undone step by step; what could not be stored is kept and tried again. It outlives a look at
 * another station, so that the next opening shows at once what was known, and renews it beside.
 */
export function createStationStore(server: StationServer) {
  let state = emptyState
  const listeners = new Set<() => void>()
  const set = (part: Partial<StationState>) => {
    state = { ...state, ...part }
    for (const listener of listeners) listener()
  }
  const past: Done[] = []
  let pending: LinkChange[] = []
  let storing = Promise.resolve()
  let timer: ReturnType<typeof setTimeout> | undefined
  let text = ''
  /** changes that an answer on its way may not hold yet */
  let unseen: LinkChange[] | null = null

  const say = (words: string, bad = false) => set({ said: { text: words, bad } })

  async function load(): Promise<void> {
    await storing
    unseen = [...pending]
    try {
      const fetched = await server.fetch()
      const changed = fetched !== text || state.held === null
      text = fetched
      if (changed) set({ held: withChanges(openStation(JSON.parse(fetched)), unseen) })
      if (state.problem !== null) set({ problem: null })
    } catch (error) {
      set({ problem: `The ads could not be fetched: ${wordsOf(error)}.` })
    } finally {
      unseen = null
    }
  }

  /** Stores what is only shown yet; done when it is on disk, or known not to be. */
  function flush(): Promise<void> {
    clearTimeout(timer)
    const changes = pending
    if (changes.length === 0) return storing
    pending = []
    set({ saving: true })
    storing = storing
      .then(() => server.store(changes))
      .then(others => {
        set({ saving: false, ...(state.said.bad ? { said: nothingSaid } : {}) })
        if (others.length > 0) {
          for (const step of past) step.changes = step.changes.map(change => onTopOf(change, others))
          set({ met: others })
        }
        // The tracking domain has an address for every landing page once it is stored.
        if (others.length > 0 || changes.some(c => c.what === 'ad')) void load()
      })
      .catch(error => {
        pending = join(changes, pending)
        set({ saving: false })
        say(`Not stored yet (${wordsOf(error)}). It is kept here and tried again.`, true)
        clearTimeout(timer)
        timer = setTimeout(flush, TRY_AGAIN_MS)
      })
    return storing
  }

  function show(changes: readonly LinkChange[]): void {
    if (state.held) set({ held: withChanges(state.held, changes) })
    pending = join(pending, changes)
    for (const change of changes) unseen?.push(change)
    clearTimeout(timer)
    timer = setTimeout(flush, SAVE_AFTER_MS)
  }

  /** @param under name of the step that the changes belong to; null for a step of their own */
  function apply(changes: readonly LinkChange[], under: string | null = null): void {
    if (changes.length === 0) return
    const last = past.at(-1)
    if (under !== null && last?.under === under) last.changes = join(last.changes, changes)
    else past.push({ changes: [...changes], under })
    show(changes)
    set({ steps: past.length, said: nothingSaid })
  }

  function undo(): void {
    const last = past.pop()
    if (!last) {
      say('Nothing to undo.')
      return
    }
    show(undoing(last.changes))
    set({ steps: past.length })
    const { length } = last.changes
    say(length === 1 ? 'The last change is undone.' : `The last ${length} changes are undone.`)
  }

  /** Looks at once and then from time to time at what arrived; gives what ends it. */
  function watchArrivals(): () => void {
    let looking: ReturnType<typeof setTimeout>
    let left = false
    const look = async () => {
      const arrived = await server.fetchArrived()
      if (left) return
      // Without an answer the states are told by the plans alone, until the next look.
      if (arrived && JSON.stringify(arrived) !== JSON.stringify(state.arrived)) set({ arrived })
      looking = setTimeout(look, LOOK_AGAIN_MS)
    }
    void look()
    return () => {
      left = true
      clearTimeout(looking)
    }
  }

  return {
    read: () => state,
    subscribe: (listener: () => void) => {
      listeners.add(listener)
      return () => {
        listeners.delete(listener)
      }
    },
    load,
    readMet: () => set({ met: [] }),
    flush,
    apply,
    undo,
    say,
    watchArrivals,
  }
}
