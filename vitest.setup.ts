import fc from 'fast-check'

/** The gate runs the same cases every time, so that what it refuses can be looked into; `npm run shake` draws new ones. */
const { PROPERTY_RUNS } = process.env

fc.configureGlobal(PROPERTY_RUNS ? { numRuns: Number(PROPERTY_RUNS) } : { seed: 20261005 })
