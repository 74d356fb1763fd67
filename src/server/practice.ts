import { request } from 'node:http'

const port = () => Number(process.env.PRACTICE_PORT ?? 4620)

/** The address of a party of the practice ground, as a browser has it. */
export const practiceOrigin = (party: string): string => `http://${party}.localhost:${port()}`

/**
 * Asks a party of the practice ground. Node does not know names that end in .localhost, so this machine
 * is asked under the party's name.
 *
 * @returns null when nobody answers
 */
export function askPractice(
  party: string,
  path: string,
  post?: { type: string; body: string; headers?: Record<string, string> },
): Promise<{ status: number; body: string } | null> {
  return new Promise(done => {
    const sent = request(
      {
        host: '127.0.0.1',
        port: port(),
        path,
        method: post ? 'POST' : 'GET',
        headers: {
          host: `${party}.localhost:${port()}`,
          ...(post ? { 'content-type': post.type, ...post.headers } : {}),
        },
      },
      response => {
        const chunks: Buffer[] = []
        response.on('data', (chunk: Buffer) => chunks.push(chunk))
        response.on('end', () =>
          done({ status: response.statusCode ?? 0, body: Buffer.concat(chunks).toString('utf8') }),
        )
      },
    )
    sent.on('error', () => done(null))
    sent.end(post?.body)
  })
}

/** Networks that the practice ground plays. */
const practiceNetworks: readonly string[] = ['norrfeed', 'kelpie', 'mothwire', 'guildpost', 'whyfold']
export const isPractised = (network: string): boolean => hasPractice() && practiceNetworks.includes(network)

/** Whether the practice ground runs beside this application: it does in the demo. */
export const hasPractice = (): boolean => process.env.AEQUANT_PRACTICE === 'yes'
