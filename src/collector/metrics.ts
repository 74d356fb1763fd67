import { Counter, collectDefaultMetrics, Gauge, Histogram, type Metric, Registry } from 'prom-client'
import { metricsWriter } from '@/formats/openMetrics'

const kinds = ['click', 'hop', 'event', 'postback', 'order'] as const
const outcomes = ['recorded', 'not_recorded', 'refused'] as const
export type Kind = (typeof kinds)[number]
type Outcome = (typeof outcomes)[number]

/** Seconds: a write to a good disk takes under one thousandth, to a bad one a tenth. */
const buckets = [0.0005, 0.001, 0.0025, 0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 1]

/**
 * What the collector did since it was started.
 *
 * @param journal what is to be told of it when somebody asks
 */
export function createMetrics(journal: () => { records: number; failing: boolean }) {
  const own = new Registry()
  collectDefaultMetrics({ register: own })
  const requests = new Counter({
    name: 'aequant_requests_total',
    help: 'Requests by what they brought and what became of it; not_recorded went on without a record',
    labelNames: ['kind', 'outcome'],
    registers: [],
  })
  const writes = new Histogram({
    name: 'aequant_journal_write_seconds',
    help: 'How long the journal took until what was written was on disk',
    buckets,
    registers: [],
  })
  const redirects = new Histogram({
    name: 'aequant_redirect_seconds',
    help: 'From a click until its redirect was sent, its record being on disk',
    buckets,
    registers: [],
  })
  const records: Gauge = new Gauge({
    name: 'aequant_journal_records',
    help: 'Records that the journal took since the collector was started',
    registers: [],
    collect: () => records.set(journal().records),
  })
  const failing: Gauge = new Gauge({
    name: 'aequant_journal_failing',
    help: '1 while the journal cannot be written',
    registers: [],
    collect: () => failing.set(journal().failing ? 1 : 0),
  })
  // Labels are looked up once: a click waits for none of it.
  const counters = Object.fromEntries(
    kinds.map(kind => [
      kind,
      Object.fromEntries(outcomes.map(outcome => [outcome, requests.labels(kind, outcome)])),
    ]),
  ) as Record<Kind, Record<Outcome, Counter.Internal>>
  const defaults = own.getMetricsAsArray() as unknown as Metric[]
  return {
    count: (kind: Kind, outcome: Outcome, times = 1): void => counters[kind][outcome].inc(times),
    wrote: (seconds: number): void => writes.observe(seconds),
    redirected: (seconds: number): void => redirects.observe(seconds),
    write: metricsWriter([requests, writes, redirects, records, failing, ...defaults]),
  }
}
