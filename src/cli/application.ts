/** The Next.js application as a child of the launcher: it ends when its parent does, however that ended. */
import http from 'node:http'
import { guardServer } from './httpBorder'

// Next makes its own server, and fails without words on what is no address.
const { createServer } = http
http.createServer = ((...given: Parameters<typeof createServer>) =>
  guardServer(createServer(...given))) as typeof createServer

process.umask(0o077)
process.on('disconnect', () => process.exit(0))
await import('next/dist/bin/next')
