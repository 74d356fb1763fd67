import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { appendFileSync, cpSync, existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from './test'

/** A running Aequant with ports and a data folder of its own. */
export interface Application {
  origin: string
  collector: string
  norrfeed: string
  shop: string
  /** where the practice ground answers, whatever host is asked for */
  practice: string
  folder: string
  environment: NodeJS.ProcessEnv
  stop: () => Promise<void>
  /** kills the launcher, and nothing else */
  kill: () => void
}

/** Starts `npm run demo` or `npm start` as a user would, and waits until it says that it is ready. */
export async function startApplication(
  mode: 'demo' | 'start',
  port: number,
  folder = mkdtempSync(join(tmpdir(), 'aequant-e2e-')),
  more: Record<string, string> = {},
): Promise<Application> {
  const [collectorPort, practicePort] = [port + 10, port + 20]
  const environment = {
    ...process.env,
    AEQUANT_DATA: folder,
    PORT: String(port),
    COLLECTOR_PORT: String(collectorPort),
    PRACTICE_PORT: String(practicePort),
    ...more,
  }
  mkdirSync(folder, { recursive: true })
  const child: ChildProcess = spawn('node', ['scripts/start.mjs', mode], {
    env: environment,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  })
  let said = ''
  await new Promise<void>((ready, failed) => {
    const hear = (chunk: Buffer) => {
      said += chunk
      try {
        appendFileSync(join(folder, 'output.log'), chunk)
      } catch {
        // The disk that is tried may be full.
      }
      if (said.includes('Aequant is ready')) ready()
    }
    child.stdout?.on('data', hear)
    child.stderr?.on('data', hear)
    child.once('exit', code => failed(new Error(`It ended with ${code}:\n${said}`)))
  })
  const stop = () =>
    new Promise<void>(done => {
      child.removeAllListeners('exit')
      child.once('exit', () => done())
      child.kill('SIGINT')
    })
  return {
    origin: `http://localhost:${port}`,
    collector: `http://127.0.0.1:${collectorPort}`,
    norrfeed: `http://norrfeed.localhost:${practicePort}`,
    practice: `http://127.0.0.1:${practicePort}`,
    shop: `http://shop.tarnbrook.localhost:${practicePort}`,
    folder,
    environment,
    stop,
    kill: () => void child.removeAllListeners('exit').kill('SIGKILL'),
  }
}

/**
 * Starts the demo on a copy of what it is filled with, which each worker has filled once on ports of its own: the
 * demo's addresses name them.
 */
export async function startDemo(more: Record<string, string> = {}): Promise<Application> {
  const { parallelIndex, project } = test.info()
  const port = 4700 + 200 * parallelIndex
  const filled = join(project.outputDir, `filled-${parallelIndex}`)
  if (!existsSync(join(filled, 'whole'))) {
    const first = await startApplication('demo', port, filled)
    await first.stop()
    appendFileSync(join(filled, 'whole'), '')
  }
  const folder = mkdtempSync(join(tmpdir(), 'aequant-e2e-'))
  cpSync(filled, folder, { recursive: true })
  return startApplication('demo', port, folder, more)
}

/** The demo for the tests of one file, which begin once its evidence is gathered, however long a machine takes. */
export function demoFor(more: Record<string, string> = {}): Application {
  const app = {} as Application
  test.beforeAll(async () => {
    test.setTimeout(600_000)
    Object.assign(app, await startDemo(more))
    const page = async () => (await fetch(`${app.origin}/weigh`)).text()
    await expect.poll(page, { timeout: 300_000 }).toContain('brought an estimated')
  })
  test.afterAll(async () => {
    await app.stop?.()
    if (app.folder) rmSync(app.folder, { recursive: true })
  })
  return app
}

/** The process that listens on a port of this machine. */
export function processOn(port: number): number {
  const inode = execFileSync(
    'sh',
    [
      '-c',
      `awk '$2 ~ /:${port.toString(16).toUpperCase().padStart(4, '0')}$/ && $4=="0A" {print $10}' /proc/net/tcp /proc/net/tcp6`,
    ],
    { encoding: 'utf8' },
  )
    .trim()
    .split('\n')[0]
  const found = execFileSync(
    'sh',
    [
      '-c',
      `ls -l /proc/[0-9]*/fd 2>/dev/null | awk '/^\\/proc/ {split($0,p,"/"); pid=p[3]} /socket:\\[${inode}\\]/ {print pid; exit}'`,
    ],
    { encoding: 'utf8' },
  ).trim()
  return Number(found)
}
