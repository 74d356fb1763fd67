/** The reference of the collector: a bare Node server that answers 302, or 204 to a POST, and nothing else. */
import { createServer } from 'node:http'

const server = createServer((request, response) => {
  if (request.method === 'POST') {
    request.resume()
    request.on('end', () => response.writeHead(204).end())
    return
  }
  response.writeHead(302, { location: 'https://tarnbrook.example/kits' }).end()
})
server.listen(Number(process.argv[2]), '127.0.0.1', () => process.send?.('ready'))
process.on('disconnect', () => process.exit(0))
