import { listUnreadable } from '@/data/stored'
import { unpublished } from './routes'
import { listJournalFaults } from './standing'

/** Something that takes part in nothing: until somebody mends it, or because it is lost. */
export interface LeftOut {
  what: string
  why: string
}

/** Routes that lead nowhere, tag rules that no browser is given, what this version cannot read, and what the journal lost. */
export function leftOut(): LeftOut[] {
  const { routes, tagRules } = unpublished()
  return [
    ...routes.map(({ code, why }) => ({ what: `the route ${code}`, why })),
    ...tagRules.map(({ at, text }) => ({
      what: `the rule ${at.rule}`,
      why: `no browser can be given its pattern ${text}`,
    })),
    ...listUnreadable().map(({ table, id, why }) => ({ what: `${table.replaceAll('_', ' ')}, ${id}`, why })),
    ...listJournalFaults(),
  ]
}
