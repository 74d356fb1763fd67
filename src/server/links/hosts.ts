import * as z from 'zod'
import type { Database } from '@/data/connect'
import { raiseRouting, saveSettings, type Workspace } from '@/data/workspace'

const hostsSchema = z.array(z.string().max(253)).max(500)

/**
 * Keeps the hosts that ads may lead to, and that *Try it* may ask, and between which the tag carries the click; none means that any is right for an ad.
 *
 * @returns what is wrong in words, or null when it is done
 */
export async function keepHosts(
  database: Database,
  { id, settings }: Workspace,
  hosts: readonly string[],
): Promise<string | null> {
  const named = hostsSchema
    .parse(hosts)
    .map(host => host.trim().toLowerCase())
    .filter(Boolean)
  const wrong = named.find(h => !URL.canParse(`https://${h}`) || new URL(`https://${h}`).host !== h)
  if (wrong) return `${wrong} is no host: write it alone, as tarnbrook.example.`
  await saveSettings(database, id, { ...settings, hosts: [...new Set(named)] })
  // The tag carries the click between them.
  await raiseRouting(database, id)
  return null
}
