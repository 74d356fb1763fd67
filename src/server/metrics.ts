import { Gauge } from 'prom-client'
import type { Database } from '@/data/connect'
import { countAside } from '@/data/intake'
import { countRelays } from '@/data/relays'
import { hasRoom } from '@/data/room'
import { dataFolder } from '@/formats/dataFolder'
import { metricsWriter } from '@/formats/openMetrics'
import { collectorState, within } from './health'
import { listFailing } from './standing'
import { WORKSPACE } from './workspace'

/** The state of the application's work, asked for anew each time. */
export async function writeMetrics(database: Database, accept: string | undefined) {
  const gauge = (name: string, help: string, labelNames: string[] = []) =>
    new Gauge({ name, help, labelNames, registers: [] })
  const up = gauge('aequant_database_up', '1 while the database answers')
  const room = gauge('aequant_disk_has_room', '1 while the disk has room for what arrives')
  const lagRecords = gauge(
    'aequant_drain_lag_records',
    'Records of the journal that are not in the database yet',
  )
  const lagSeconds = gauge('aequant_drain_lag_seconds', 'How long the oldest of them has waited')
  const collector = gauge('aequant_collector_up', '1 while the collector answers and can write')
  const aside = gauge('aequant_set_aside', 'Arrivals that are set aside and in no figure')
  const relays = gauge('aequant_relays', 'What the server tells networks, by network and state', [
    'network',
    'state',
  ])
  const failing = gauge('aequant_work_failing', 'Work that does not succeed at the moment, by name', ['work'])

  const waiting = await within(countAside(database, WORKSPACE)).catch(() => null)
  up.set(waiting === null ? 0 : 1)
  if (waiting !== null) {
    aside.set(waiting)
    for (const { network, state, count } of await countRelays(database, WORKSPACE))
      relays.set({ network, state }, count)
  }
  const state = await collectorState(waiting === null ? null : database)
  lagRecords.set(state.lag_records)
  lagSeconds.set(state.lag_seconds)
  collector.set(state.status === 'ok' ? 1 : 0)
  room.set(hasRoom(dataFolder()) ? 1 : 0)
  for (const { work } of listFailing()) failing.set({ work }, 1)
  return metricsWriter([up, room, lagRecords, lagSeconds, collector, aside, relays, failing])(accept)
}
