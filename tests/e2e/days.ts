const DAY_MS = 86_400_000
const begun = Date.now()

/** The day so many days before the one on which the tests began, as `YYYY-MM-DD`. The demo ends with yesterday. */
export const daysAgo = (days: number): string => new Date(begun - days * DAY_MS).toISOString().slice(0, 10)
