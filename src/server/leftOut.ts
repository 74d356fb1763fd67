import { listUnreadable } from '@/data/stored'
import { unpublished } from './routes'

/** Something that stands in the database and takes part in nothing until somebody mends it. */
export interface LeftOut {
  what: string
  why: string
}

/** Routes that lead nowhere, tag rules that no browser is given, and what this version cannot read, each by its name. */
export function leftOut(): LeftOut[] {
  const { routes, tagRules } = unpublished()
  return [
    ...routes.map(({ code, why }) => ({ what: `the route ${code}`, why })),
    ...tagRules.map(({ at, text }) => ({
      what: `the rule ${at.rule}`,
      why: `no browser can be given its pattern ${text}`,
    })),
    ...listUnreadable().map(({ table, id, why }) => ({ what: `${table.replaceAll('_', ' ')}, ${id}`, why })),
  ]
}
