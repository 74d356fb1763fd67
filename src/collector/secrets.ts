import { createHash, createHmac, timingSafeEqual } from 'node:crypto'
import type { Secret } from '@/core/intake/routing'

const digest = (text: string) => createHash('sha256').update(text).digest()
/** Compares in a time that tells nothing of either, whatever bytes they hold and however long they are. */
export const isSame = (given: string, wanted: string) => timingSafeEqual(digest(given), digest(wanted))

const nameOf = (parameter: string) => new URLSearchParams(parameter).keys().next().value
/** A query without one of its parameters, all else byte for byte. */
const without = (query: string, name: string) =>
  query
    .split('&')
    .filter(parameter => nameOf(parameter) !== name)
    .join('&')

/**
 * Whether a postback carries its partner's secret, see `secretSchema`, and what of it may be kept: the one
 * place that takes secrets out before anything is written.
 */
export function readSecret(query: string, secret: Secret | null): { trusted: boolean; query: string } {
  if (!secret) return { trusted: true, query }
  const given = new URLSearchParams(query).get(secret.parameter) ?? ''
  const rest = without(query, secret.parameter)
  const wanted =
    secret.kind === 'shared' ? secret.value : createHmac('sha256', secret.value).update(rest).digest('hex')
  return { trusted: isSame(given, wanted), query: rest }
}
