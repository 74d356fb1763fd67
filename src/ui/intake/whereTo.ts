import { ownRequest } from '@/core/shared/ownRequest'
import type { Destination } from './waitingFiles'

const LOOKED_AT_BYTES = 256 * 1024

/** Where a file seems to belong; null where somebody has to say it. */
export async function whereTo(file: File): Promise<Destination | null> {
  const part = /\.(xlsx|json)$/i.test(file.name) ? file : file.slice(0, LOOKED_AT_BYTES)
  const answer = await fetch('/api/which-file', {
    method: 'POST',
    body: part,
    headers: { ...ownRequest, 'x-file-name': encodeURIComponent(file.name) },
  }).catch(() => null)
  const said = answer?.ok ? await answer.json().catch(() => null) : null
  return said?.place ?? null
}
