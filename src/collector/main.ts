import { dataFolder } from '@/formats/dataFolder'
import { createCollector } from './server'

const port = Number(process.env.COLLECTOR_PORT ?? 4610)
const host = process.env.COLLECTOR_HOST ?? process.env.HOST ?? '127.0.0.1'
process.umask(0o077)
const { server, close } = createCollector(dataFolder(), {
  perMinute: Number(process.env.COLLECTOR_PER_MINUTE ?? 3000),
  ...(process.env.COLLECTOR_CONNECTIONS && { connections: Number(process.env.COLLECTOR_CONNECTIONS) }),
  behindProxy: process.env.COLLECTOR_BEHIND_PROXY === '1',
})
server.on('error', error => {
  console.error(`The collector cannot listen on ${host}:${port}: ${error.message}`)
  process.exit(1)
})
server.listen(port, host, () => {
  process.send?.('ready')
  if (!process.send) console.log(`Collector on http://localhost:${port}`)
})
const stop = () => void close().then(() => process.exit(0))
process.on('SIGTERM', stop)
process.on('SIGINT', () => !process.send && stop())
process.on('disconnect', stop)
