import fc from 'fast-check'

/** The gate runs the same cases every time, so that what it refuses can be looked into; `npm run shake` draws new ones. */
const { PROPERTY_RUNS, MUTATED_TESTS } = process.env
const seed = 20261005

fc.configureGlobal(
  PROPERTY_RUNS
    ? { numRuns: Number(PROPERTY_RUNS) }
    : // A fault that is seen needs no smallest example.
      MUTATED_TESTS
      ? { seed, numRuns: 12, endOnFailure: true }
      : { seed },
)
