export type Severity = 'error' | 'warning' | 'hint'

/** The order in which findings are shown, gravest first. */
export const severityRank = { error: 0, warning: 1, hint: 2 } satisfies Record<Severity, number>
