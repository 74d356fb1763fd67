import type { Met } from '@/core/links/rebase'
import { ownRequest } from '@/core/shared/ownRequest'
import type { StationServer } from './stationStore'

const AHEAD_MS = 5000
/** What a browser sends even for a page that is being left, in all. */
const MOST_WHEN_LEAVING = 60_000
let ahead: { at: number; asked: Promise<string> } | null = null
/** Whether the station has something to show while it asks again. */
let known = false

async function ask(): Promise<string> {
  const response = await fetch('/api/links')
  if (!response.ok) throw new Error(`the server answered ${response.status}`)
  return response.text()
}

/** Asks for the ads when somebody is about to open the station for the first time. */
export function fetchAhead(): void {
  if (known || (ahead && Date.now() - ahead.at < AHEAD_MS)) return
  const asked = ask()
  // Whoever opens the station asks again, and is told what is wrong.
  asked.catch(() => {
    ahead = null
  })
  ahead = { at: Date.now(), asked }
}

export const stationServer: StationServer = {
  /** Once, what was asked for a moment ago. */
  async fetch() {
    const early = ahead && Date.now() - ahead.at < AHEAD_MS ? ahead.asked : null
    ahead = null
    const text = await (early ?? ask())
    known = true
    return text
  },
  fetchArrived: () =>
    fetch('/api/links/arrivals?by=ad')
      .then(response => (response.ok ? response.json() : null))
      .catch(() => null),
  async store(changes) {
    const body = JSON.stringify(changes)
    const response = await fetch('/api/links/changes', {
      method: 'POST',
      headers: { ...ownRequest, 'content-type': 'application/json' },
      body,
      keepalive: body.length < MOST_WHEN_LEAVING,
    })
    // What was asked for before does not hold these changes.
    ahead = null
    if (response.ok) return ((await response.json()) as { others: Met[] }).others
    const answer: unknown = await response.json().catch(() => null)
    const why =
      answer && typeof answer === 'object' && 'error' in answer ? String(answer.error) : response.status
    throw new Error(String(why))
  },
}
