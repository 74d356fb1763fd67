import Bowser from 'bowser'
import { getCountryForTimezone } from 'countries-and-timezones'
import { isbot } from 'isbot'

export interface AgentFacts {
  /** phone, tablet or desktop; null when the user agent does not say */
  device: string | null
  os: string | null
  browser: string | null
  bot: boolean
}

const MOST = 10_000
const known = new Map<string, AgentFacts>()

/** What a user agent says of itself. No user agent at all is no browser. */
export function readAgent(agent: string): AgentFacts {
  let facts = known.get(agent)
  if (!facts) {
    const read = agent ? Bowser.parse(agent) : null
    const type = read?.platform.type
    facts = {
      device: type === 'mobile' ? 'phone' : (type ?? null),
      os: read?.os.name ?? null,
      browser: read?.browser.name || null,
      bot: agent === '' || isbot(agent),
    }
    if (known.size >= MOST) known.clear()
    known.set(agent, facts)
  }
  return facts
}

/** The country that a browser's time zone lies in, ISO 3166-1 alpha-2; null where it lies in none. */
export const countryOf = (zone: string | null | undefined): string | null =>
  (zone && getCountryForTimezone(zone)?.id) || null
