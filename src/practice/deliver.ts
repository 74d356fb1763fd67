import { request } from 'node:http'
import { ownRequest } from '@/core/shared/ownRequest'
import { writeCsv } from '@/formats/csv'

const TRIES = 20
const WAIT_MS = 1500

/** Sends an exchange file to the application; fails where it is not taken. */
export async function deliverFile(
  kind: 'delivery' | 'clicks' | 'orders' | 'claim-rows' | 'claims',
  body: string,
): Promise<void> {
  if (!(await post(`/api/import/${kind}`, body))) throw new Error(`the application did not take ${kind}`)
}

/** Sends rows to the application as an exchange file; tried again for a while when it is not there. */
export async function deliver(
  kind: 'orders' | 'claim-rows' | 'claims',
  row: Record<string, string | number>,
): Promise<void> {
  const body = writeCsv(Object.keys(row), [row])
  for (let attempt = 0; attempt < TRIES; attempt++) {
    if (await post(`/api/import/${kind}`, body)) return
    await new Promise(next => setTimeout(next, WAIT_MS))
  }
  console.error(`The practice ground could not deliver to ${kind}: the application does not answer.`)
}

function post(path: string, body: string): Promise<boolean> {
  const port = Number(process.env.PORT ?? 4600)
  return new Promise(done => {
    const sent = request(
      {
        host: '127.0.0.1',
        port,
        path,
        method: 'POST',
        headers: { ...ownRequest, 'content-type': 'text/csv' },
      },
      response => {
        response.resume()
        response.on('end', () => done(response.statusCode === 200))
      },
    )
    sent.on('error', () => done(false))
    sent.end(body)
  })
}
