/**
 * Starts everything on one data folder and stops it together: database, collector, application, and for
 * the demo the practice ground. `serve.mjs start` or `serve.mjs demo`.
 */
import { type ChildProcess, fork } from 'node:child_process'
import { get } from 'node:http'
import { join } from 'node:path'
import { formatDay, zoneClock } from '@/core/shared/days'
import { isServed, migrateDatabase, openDatabase } from '@/data/connect'
import { dataFolder } from '@/formats/dataFolder'
import { MARKET_ZONE } from '@/practice/market/simulate'
import { practiceOrigin } from '@/server/practice'
import { publishRoutes } from '@/server/routes'
import { ensureWorkspace, WORKSPACE } from '@/server/workspace'
import { fillDemo } from './fillDemo'
import { furnishPractice } from './furnishPractice'

const demo = process.argv[2] === 'demo'
if (demo) process.env.AEQUANT_DATA ||= join('.aequant', 'demo')
const host = process.env.HOST ?? '127.0.0.1'
const port = Number(process.env.PORT ?? 4600)
const collectorPort = Number(process.env.COLLECTOR_PORT ?? 4610)
const root = process.cwd()
const folder = dataFolder()
process.env.AEQUANT_DATA = folder

const RESTART_MS = 1000
const children: ChildProcess[] = []
let stopping = false

/** A child that lives as long as this process; started again when it dies, if it is one that may. */
function start(name: string, file: string, args: string[], restarts: boolean): Promise<void> {
  return new Promise((ready, failed) => {
    const child = fork(file, args, {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      env: process.env,
      execArgv: ['--enable-source-maps'],
    })
    children.push(child)
    child.once('message', () => ready())
    child.once('exit', code => {
      children.splice(children.indexOf(child), 1)
      if (stopping) return
      failed(new Error(`The ${name} ended (${code}).`))
      if (code === 3 || !restarts) return void stop(1)
      console.error(`The ${name} ended unexpectedly; it is started again.`)
      setTimeout(() => !stopping && void start(name, file, args, restarts).catch(() => {}), RESTART_MS)
    })
  })
}

async function stop(code: number): Promise<void> {
  if (stopping) return
  stopping = true
  for (const child of [...children].reverse()) child.kill('SIGTERM')
  const deadline = Date.now() + 5000
  while (children.length > 0 && Date.now() < deadline) await new Promise(next => setTimeout(next, 30))
  for (const child of children) child.kill('SIGKILL')
  process.exit(code)
}
process.on('SIGINT', () => void stop(0))
process.on('SIGTERM', () => void stop(0))

/** What answers at an address, as JSON; null when nothing does. */
function fetchJson(url: string): Promise<Record<string, unknown> | null> {
  return new Promise(done => {
    get(url, response => {
      let body = ''
      response.on('data', chunk => (body += chunk))
      response.on('end', () => {
        try {
          done(JSON.parse(body))
        } catch {
          done({})
        }
      })
    }).on('error', () => done(null))
  })
}

async function answers(url: string): Promise<void> {
  for (let i = 0; i < 300; i++) {
    if (await fetchJson(url)) return
    await new Promise(next => setTimeout(next, 100))
  }
  throw new Error(`Nothing answers at ${url}.`)
}

const dist = (name: string) => join(root, 'dist', `${name}.mjs`)

try {
  if (!process.env.DATABASE_URL && (await isServed(folder))) {
    console.error(`Aequant already runs on ${folder}. Stop it first, or set AEQUANT_DATA to another folder.`)
    process.exit(1)
  }
  if (!process.env.DATABASE_URL) await start('database', dist('database'), [], true)
  const { database, close } = openDatabase()
  await migrateDatabase(database)
  if (demo) await fillDemo(database, formatDay(zoneClock(MARKET_ZONE)(Date.now()).day))
  await ensureWorkspace(database)
  await publishRoutes(database, WORKSPACE, folder)

  // A collector that was started alone on this folder, or outlived an earlier start, goes on.
  const collector = await fetchJson(`http://${host}:${collectorPort}/health`)
  if (collector && collector.folder !== folder)
    throw new Error(`Port ${collectorPort} is taken; set COLLECTOR_PORT to another one.`)
  if (!collector) await start('collector', dist('collector'), [], true)
  if (demo) {
    process.env.AEQUANT_PRACTICE = 'yes'
    await start('practice ground', dist('practice'), [], true)
  }
  void start(
    'application',
    join(root, 'node_modules/next/dist/bin/next'),
    ['start', '-p', String(port), '-H', host],
    true,
  ).catch(() => {})
  await answers(`http://${host}:${port}/api/health`)
  if (demo) await furnishPractice(database)
  await close()
  console.log(`\nAequant is ready: http://localhost:${port}`)
  if (demo) {
    console.log(
      `Practice network:  ${practiceOrigin('norrfeed')}\nPractice shop:     ${practiceOrigin('shop.tarnbrook')}\nPractice partner:  ${practiceOrigin('corvane')}`,
    )
  }
  console.log('Ctrl-C stops all of it.')
} catch (error) {
  console.error(error instanceof Error ? error.message : error)
  await stop(1)
}
