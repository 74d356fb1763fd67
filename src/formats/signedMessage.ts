import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import type { OrderSecret } from '@/core/intake/routing'

/** Why a message is not taken: its time is too far off, or nobody who knows a secret signed it. */
export type SignatureProblem = { status: 400 | 401; error: string }

/**
 * Checks a message by the Standard Webhooks specification, with every secret that is valid at the time.
 *
 * @param now epoch ms
 * @returns what is wrong; null when one of the secrets signed it
 */
export function checkSignature(
  body: string,
  headers: Record<string, string>,
  secrets: readonly OrderSecret[],
  now: number,
): SignatureProblem | null {
  let reason = 'No matching signature found'
  for (const { value, until } of secrets) {
    if (until !== null && until <= now) continue
    try {
      new Webhook(value).verify(body, headers, { jsonParse: false })
      return null
    } catch (error) {
      // A secret that is none cannot have signed anything; its text stays here.
      if (error instanceof WebhookVerificationError) reason = error.message
    }
  }
  return { status: /timestamp/i.test(reason) ? 400 : 401, error: `${reason}. Nothing was taken in.` }
}
