import type { Arrival } from '@/core/intake/arrival'

const MOST = 500

/** The fields of an arrival that had to be cleaned, as its attributes say it; nothing where none had. */
export const cleanedFacts = ({ cleaned }: Pick<Arrival, 'cleaned'>) =>
  cleaned?.length ? { cleaned: cleaned.join(', ').slice(0, MOST) } : {}
