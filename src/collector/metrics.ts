import { Counter, collectDefaultMetrics, Registry } from 'prom-client'

export const kinds = ['click', 'hop', 'event', 'postback', 'order'] as const
const outcomes = ['recorded', 'not_recorded', 'refused'] as const

/** What the collector did since it was started, in the OpenMetrics text format. */
export function createMetrics() {
  const registry = new Registry<typeof Registry.OPENMETRICS_CONTENT_TYPE>()
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE)
  collectDefaultMetrics({ register: registry })
  const requests = new Counter({
    name: 'aequant_requests',
    help: 'Requests by what they brought and what became of it; not_recorded went on without a record',
    labelNames: ['kind', 'outcome'],
    registers: [registry],
  })
  const count = Object.fromEntries(
    kinds.map(kind => [
      kind,
      Object.fromEntries(outcomes.map(outcome => [outcome, requests.labels(kind, outcome)])),
    ]),
  ) as Record<(typeof kinds)[number], Record<(typeof outcomes)[number], Counter.Internal>>
  return { count, registry }
}
