import { ownRequest } from '@/core/shared/ownRequest'

export interface Progress {
  rows: number
  of: number
}

/** Cancels what `sendFile` began under this ID; its outcome then says what went in. */
export const cancelSending = (job: string): void =>
  void fetch(`/api/jobs/${job}`, { method: 'DELETE', headers: ownRequest }).catch(() => {})

/**
 * Posts a file and follows how far it is taken in.
 *
 * @param job an ID by which it can be cancelled
 * @returns the outcome, or an `error` in words
 */
export async function sendFile<Outcome extends object>(
  address: string,
  file: Blob,
  headers: Record<string, string>,
  hear: (progress: Progress) => void,
  job: string,
): Promise<Outcome | { error: string }> {
  try {
    const answer = await fetch(address, {
      method: 'POST',
      body: file,
      headers: {
        ...ownRequest,
        'content-type': 'text/csv',
        accept: 'application/x-ndjson',
        'x-job': job,
        ...headers,
      },
    })
    if (!answer.headers.get('content-type')?.includes('ndjson') || !answer.body) return await answer.json()
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader()
    let rest = ''
    for (;;) {
      const { value, done } = await reader.read()
      if (done) return { error: 'The answer broke off. Take the file in again: nothing counts twice.' }
      const lines = (rest + value).split('\n')
      rest = lines.pop() ?? ''
      for (const line of lines) {
        const said: Progress | { outcome: Outcome } = JSON.parse(line)
        if ('outcome' in said) return said.outcome
        hear(said)
      }
    }
  } catch {
    return { error: 'The application does not answer. Nothing is lost; try again.' }
  }
}
