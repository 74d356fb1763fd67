import { readFileSync, statSync } from 'node:fs'
import { type Routing, routingSchema } from '@/core/intake/routing'

const LOOK_EVERY_MS = 300

const entry = <T>(table: Record<string, T>, key: string): T | undefined =>
  Object.hasOwn(table, key) ? table[key] : undefined

/** The routing table, read again when the file changes; the last good one is kept when the new one is broken. */
export function watchRouting(path: string) {
  let routing: Routing = routingSchema.parse({ version: 0 })
  let seen = ''
  const look = () => {
    try {
      const { mtimeMs, size, ino } = statSync(path)
      const stamp = `${mtimeMs}/${size}/${ino}`
      if (stamp === seen) return
      seen = stamp
      routing = routingSchema.parse(JSON.parse(readFileSync(path, 'utf8')))
    } catch (error) {
      if (seen !== '')
        console.error(
          'The routing table cannot be read; the last good one stays.',
          error instanceof Error ? error.message : '',
        )
    }
  }
  look()
  const timer = setInterval(look, LOOK_EVERY_MS)
  timer.unref()
  return {
    route: (code: string) => entry(routing.codes, code),
    partner: (code: string) => entry(routing.partners, code),
    site: (key: string) => entry(routing.sites, key),
    /** whether a live test of a workspace runs under a token */
    isTest: (workspace: string, token: string) =>
      Object.values(routing.sites).some(s => s.workspace === workspace && s.tests.includes(token)),
    fallback: () => routing.fallback,
    keys: () => routing.keys,
    stop: () => clearInterval(timer),
  }
}
