/**
 * Starts everything on one data folder and stops it together: database, collector, application, and for
 * the demo the practice ground. `serve.mjs start`, `serve.mjs demo`, or `serve.mjs dev`: the demo, with pages that
 * are built anew as their sources change.
 */
import { type ChildProcess, fork } from 'node:child_process'
import { mkdirSync } from 'node:fs'
import { get } from 'node:http'
import { join } from 'node:path'
import ipaddr from 'ipaddr.js'
import { formatDay, zoneClock } from '@/core/shared/days'
import { openDatabase } from '@/data/connect'
import { lockFolder } from '@/data/lock'
import { migrateDatabase } from '@/data/migrate'
import { hasRoom } from '@/data/room'
import { dataFolder } from '@/formats/dataFolder'
import { journalFolder, journalId } from '@/formats/journalFolder'
import { MARKET_ZONE } from '@/practice/market/simulate'
import { askCollector } from '@/server/health'
import { practiceOrigin } from '@/server/practice'
import { publishRoutes } from '@/server/routes'
import { ensureWorkspace, WORKSPACE } from '@/server/workspace'
import { portProblem } from '../../scripts/ports.mjs'
import { fillDemo } from './fillDemo'
import { furnishPractice } from './furnishPractice'

const dev = process.argv[2] === 'dev'
const demo = dev || process.argv[2] === 'demo'
if (demo) process.env.AEQUANT_DATA ||= join('.aequant', dev ? 'dev' : 'demo')
const host = process.env.HOST ?? '127.0.0.1'
const port = Number(process.env.PORT ?? 4600)
const collectorPort = Number(process.env.COLLECTOR_PORT ?? 4610)
const practicePort = Number(process.env.PRACTICE_PORT ?? 4620)
const root = process.cwd()
process.umask(0o077)
const folder = dataFolder()
process.env.AEQUANT_DATA = folder

const RESTART_MS = 300
/** One that lived so long is not at fault for what it dies of. */
const STEADY_MS = 5000
/** One that dies again and again is started again ever more rarely. */
const LONGEST_RESTART_MS = 2000
const GIVEN_UP = 3
/** The database says every second that it is not stuck. A long query keeps it from that, a full disk for good. */
const STUCK_MS = 15_000
const children = new Set<ChildProcess>()
let stopping = false
let ready = false

let fail: (error: Error) => void = () => {}
/** One of the children ended before everything was ready: the start has failed. */
const failure = new Promise<never>((_, reject) => {
  fail = reject
})

/** A child that lives as long as this process; started again when it dies, once everything was ready. */
function start(name: string, file: string, args: string[] = [], deaths = 0): ChildProcess {
  const child = fork(file, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: process.env,
    execArgv: ['--enable-source-maps'],
  })
  children.add(child)
  const began = Date.now()
  let alive = Number.POSITIVE_INFINITY
  child.on('message', said => {
    if (said === 'alive') alive = Date.now()
  })
  const watch = setInterval(() => {
    if (Date.now() - alive > STUCK_MS && !hasRoom(folder)) child.kill('SIGKILL')
  }, STUCK_MS / 5)
  child.once('exit', code => {
    clearInterval(watch)
    children.delete(child)
    if (stopping) return
    if (!ready) return fail(new Error(`The ${name} ended (${code}) before everything was ready.`))
    if (code === GIVEN_UP) return void stop(1)
    console.error(`The ${name} ended unexpectedly; it is started again.`)
    const again = Date.now() - began > STEADY_MS ? 0 : deaths + 1
    const pause = Math.min(LONGEST_RESTART_MS, RESTART_MS * 2 ** Math.max(0, again - 1))
    setTimeout(() => !stopping && start(name, file, args, again), pause)
  })
  return child
}

/** Starts a child and waits until it says that it is ready. */
const begin = (name: string, file: string): Promise<void> =>
  new Promise(done => start(name, file).once('message', () => done()))

async function stop(code: number): Promise<void> {
  if (stopping) return
  stopping = true
  for (const child of [...children].reverse()) child.kill('SIGTERM')
  const deadline = Date.now() + 5000
  while (children.size > 0 && Date.now() < deadline) await new Promise(next => setTimeout(next, 30))
  for (const child of children) child.kill('SIGKILL')
  process.exit(code)
}
process.on('SIGINT', () => void stop(0))
process.on('SIGTERM', () => void stop(0))
// Started by a program: it ends with that.
process.on('disconnect', () => void stop(0))

/** Whether the application answers, and its database with it. */
function answers(url: string): Promise<boolean> {
  return new Promise(done => {
    const sent = get(url, { timeout: 5000 }, response => {
      response.resume()
      done(response.statusCode === 200)
    })
    sent.on('timeout', () => sent.destroy())
    sent.on('error', () => done(false))
  })
}

async function untilAnswers(url: string): Promise<void> {
  for (let i = 0; i < 300; i++) {
    if (await answers(url)) return
    await new Promise(next => setTimeout(next, 100))
  }
  throw new Error(`Nothing answers at ${url}.`)
}

/** Why the application may not listen where it is asked to; null when it may. */
function hostProblem(): string | null {
  const address = ipaddr.isValid(host) ? ipaddr.process(host).range() : host === 'localhost' ? 'loopback' : ''
  if (address === 'loopback' || process.env.AEQUANT_UNGUARDED === '1') return null
  return `HOST=${host} would let others on the network read and change everything: Aequant asks nobody for a password yet. Leave HOST out and put only the collector on the network (COLLECTOR_HOST=${host}); or, behind something that does ask, set AEQUANT_UNGUARDED=1.`
}

async function mustBeFree(port: number, at: string, variable: string): Promise<void> {
  const problem = await portProblem(port, at, variable)
  if (problem) throw new Error(problem)
}

const dist = (name: string) => join(root, 'dist', `${name}.mjs`)

async function startAll(): Promise<void> {
  const refused = hostProblem()
  if (refused) throw new Error(refused)
  await mustBeFree(port, host, 'PORT')
  // A collector that was started alone on this folder, or outlived an earlier start, goes on.
  const collector = await askCollector(collectorPort)
  const own = collector.journal !== null && collector.journal === journalId(journalFolder(folder))
  if (!own) await mustBeFree(collectorPort, process.env.COLLECTOR_HOST ?? host, 'COLLECTOR_PORT')
  if (demo) await mustBeFree(practicePort, host, 'PRACTICE_PORT')

  if (process.env.DATABASE_URL) {
    // The folder holds the journal and the routing table even so: two would write both.
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    process.once('exit', lockFolder(folder, ''))
  } else await begin('database', dist('database'))
  const { database, close } = openDatabase()
  await migrateDatabase(database)
  if (demo) await fillDemo(database, formatDay(zoneClock(MARKET_ZONE)(Date.now()).day))
  await ensureWorkspace(database)
  // What stands in the database never keeps it from starting; the application says what it cannot publish.
  await publishRoutes(database, WORKSPACE, folder).catch(error =>
    console.error('The routing table cannot be written.', error instanceof Error ? error.message : error),
  )
  if (!own) await begin('collector', dist('collector'))
  if (dev) process.env.AEQUANT_GALLERY = 'yes'
  if (demo) {
    process.env.AEQUANT_PRACTICE = 'yes'
    await begin('practice ground', dist('practice'))
  }
  start('application', dist('application'), [dev ? 'dev' : 'start', '-p', String(port), '-H', host])
  await untilAnswers(`http://${host}:${port}/api/health`)
  if (demo) await furnishPractice(database)
  await close()
  ready = true
  console.log(`\nAequant is ready: http://localhost:${port}`)
  if (demo) {
    console.log(
      `Practice network:  ${practiceOrigin('norrfeed')}\nPractice shop:     ${practiceOrigin('shop.tarnbrook')}\nPractice partner:  ${practiceOrigin('corvane')}`,
    )
  }
  console.log('Ctrl-C stops all of it.')
}

try {
  await Promise.race([startAll(), failure])
} catch (error) {
  console.error(error instanceof Error ? error.message : error)
  await stop(1)
}
