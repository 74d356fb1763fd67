import { type Metric, Registry } from 'prom-client'

/**
 * Metrics in the OpenMetrics text format, or in Prometheus’ plain text where that is asked for.
 *
 * @param metrics all of them, of no registry yet
 */
export function metricsWriter(metrics: readonly Metric[]) {
  const open = new Registry<typeof Registry.OPENMETRICS_CONTENT_TYPE>()
  open.setContentType(Registry.OPENMETRICS_CONTENT_TYPE)
  const plain = new Registry()
  for (const metric of metrics) {
    // OpenMetrics names a counter without its `_total`, and the library renames it for good: here only a view of it.
    open.registerMetric(Object.create(metric))
    plain.registerMetric(metric)
  }
  return async (accept: string | undefined): Promise<{ type: string; text: string }> => {
    const registry = wantsPlain(accept ?? '') ? plain : open
    return { type: registry.contentType, text: await registry.metrics() }
  }
}

/** Whether plain text is asked for and OpenMetrics is not. */
const wantsPlain = (accept: string): boolean =>
  /\btext\/plain\b/.test(accept) && !/\bapplication\/openmetrics-text\b/.test(accept)
