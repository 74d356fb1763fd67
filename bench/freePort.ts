import { createServer } from 'node:net'

/** A port that the system says is free. */
export const freePort = (): Promise<number> =>
  new Promise((done, failed) => {
    const server = createServer().once('error', failed)
    server.listen(0, '127.0.0.1', () => {
      const address = server.address()
      server.close(() => done(typeof address === 'object' && address ? address.port : 0))
    })
  })
