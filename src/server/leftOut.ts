import { badPatterns } from '@/core/signals/rule'
import type { Executor } from '@/data/connect'
import { listRules } from '@/data/signals'
import { listUnreadable } from '@/data/stored'
import { brokenRoutes } from './routes'

/** Something that stands in the database and takes part in nothing until somebody mends it. */
export interface LeftOut {
  what: string
  why: string
}

/** Routes that lead nowhere, and what this version cannot read, each by its name. */
export const leftOut = async (database: Executor): Promise<LeftOut[]> => [
  ...(await brokenRoutes(database)).map(({ code, why }) => ({ what: `the route ${code}`, why })),
  ...(await listRules(database)).flatMap(badPatterns).map(({ at, text }) => ({
    what: `the rule ${at.rule}`,
    why: `no browser can be given its pattern ${text}`,
  })),
  ...listUnreadable().map(({ table, id, why }) => ({ what: `${table.replaceAll('_', ' ')}, ${id}`, why })),
]
