import { addressMatcher } from './addressMatcher'
import { compilePattern } from './pattern'

/**
 * Whether an address is meant by some conditions; see `addressMatcher`.
 *
 * @example
 * matchesAddress({ any: [{ by: 'equals', text: '/thanks' }], none: [] }, 'https://Tarnbrook.example/thanks/?o=1') // true
 */
export const matchesAddress = addressMatcher(compilePattern)
