import { arrivalSchema } from '@/core/intake/arrival'
import { type SaleStatus, saleStatuses } from '@/core/intake/postback'
import type { Database } from '@/data/connect'
import { listPartners, listSetAside, savePartner, settle } from '@/data/intake'
import { raiseVersion, type Workspace } from '@/data/workspace'
import { storePostbacks } from './drain/storePostbacks'
import { importFile } from './importFile'
import { storeOrderMessage } from './orderWebhook'

const MOST = 2000

/** What was set aside for the same reason and facts: mended together or not at all. */
export interface AsideGroup {
  key: string
  kind: string
  reason: string
  facts: Record<string, string>
  count: number
  latest: number
  /** the latest of them as it came */
  raw: string
}

const keyOf = (item: { kind: string; reason: string; facts: Record<string, string> }) =>
  JSON.stringify([item.kind, item.reason, item.kind === 'line' ? {} : item.facts])

export async function asideGroups(database: Database, workspace: string): Promise<AsideGroup[]> {
  const groups = new Map<string, AsideGroup>()
  for (const item of await listSetAside(database, workspace, MOST)) {
    const key = keyOf(item)
    const group = groups.get(key)
    if (group) group.count += 1
    else
      groups.set(key, {
        key,
        kind: item.kind,
        reason: item.reason,
        facts: item.facts,
        count: 1,
        latest: item.at.getTime(),
        raw: item.raw,
      })
  }
  return [...groups.values()]
}

/** What somebody does about a group: say what it lacked, try again, or drop it. */
export type Mend =
  | { do: 'again' }
  | { do: 'drop' }
  | { do: 'status'; means: SaleStatus }
  | { do: 'rate'; date: string; rate: string }

/**
 * Mends a group and takes it in. What still cannot be read stays set aside.
 *
 * @returns how many were taken in or dropped
 */
export async function mendGroup(
  database: Database,
  workspace: Workspace,
  key: string,
  mend: Mend,
): Promise<number> {
  const items = (await listSetAside(database, workspace.id, MOST)).filter(item => keyOf(item) === key)
  const [first] = items
  if (!first) return 0
  if (mend.do === 'status') await learnStatus(database, workspace.id, first.facts, mend.means)
  if (mend.do === 'rate') {
    const row = `${mend.date},${first.facts.currency},${workspace.settings.currency},${mend.rate}`
    const { rejected } = await importFile(database, workspace, 'rates', `date,base,quote,rate\n${row}\n`)
    if (rejected[0]) throw new Error(`The ${rejected[0].column} cannot be read.`)
  }
  let settled = 0
  for (const item of items)
    await database.transaction(async transaction => {
      if (mend.do === 'drop') await settle(transaction, workspace.id, item.id, 'dropped')
      else {
        const taken =
          item.kind === 'postback'
            ? await storePostbacks(transaction, workspace.id, postbackOf(item.raw))
            : item.kind === 'order' && (await storeOrderMessage(transaction, workspace, item.raw)) !== null
        if (!taken) return
        await settle(transaction, workspace.id, item.id, 'taken')
        await raiseVersion(transaction, workspace.id)
      }
      settled += 1
    })
  return settled
}

function postbackOf(raw: string) {
  const arrival = arrivalSchema.parse(JSON.parse(raw))
  return arrival.kind === 'postback' ? [arrival] : []
}

/** Adds the word of a postback to its partner's words for a status. */
async function learnStatus(
  database: Database,
  workspace: string,
  facts: Record<string, string>,
  means: SaleStatus,
): Promise<void> {
  const stored = (await listPartners(database, workspace)).find(p => p.id === facts.partner)
  if (!stored) throw new Error(`There is no partner ${facts.partner}.`)
  const word = (facts.value ?? '').toLowerCase()
  const statuses = Object.fromEntries(
    saleStatuses.map(s => [
      s,
      [...(stored.partner.statuses[s] ?? []).filter(w => w !== word), ...(s === means ? [word] : [])],
    ]),
  )
  await savePartner(database, workspace, { ...stored, partner: { ...stored.partner, statuses } })
}
