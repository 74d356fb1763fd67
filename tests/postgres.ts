import { execFileSync } from 'node:child_process'
import { chownSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freePort } from '../bench/freePort'

const VERSIONS = '/usr/lib/postgresql'
/** Where the run's clock is set to another day (`npm run at-date`), the server's is by Debian's libfaketime. */
const OFFSET = Number(process.env.CLOCK_OFFSET ?? 0)
const FAKETIME = '/usr/lib/x86_64-linux-gnu/faketime/libfaketimeMT.so.1'
const shifted = {
  NODE_OPTIONS: '',
  LD_PRELOAD: FAKETIME,
  FAKETIME: `${OFFSET < 0 ? '' : '+'}${Math.round(OFFSET / 1000)}s`,
  FAKETIME_DONT_FAKE_MONOTONIC: '1',
}
export const hasPostgres = (): boolean => existsSync(VERSIONS) && (OFFSET === 0 || existsSync(FAKETIME))
const bin = (): string => {
  const [newest] = existsSync(VERSIONS) ? readdirSync(VERSIONS).sort().reverse() : []
  if (!newest) throw new Error('There is no PostgreSQL server here: apt-get install postgresql.')
  return join(VERSIONS, newest, 'bin')
}

export interface PostgresServer {
  /** for `DATABASE_URL` */
  url: string
  start: () => void
  stop: (how: 'fast' | 'immediate') => void
  /** process ID of the server itself */
  process: () => number
}

/** A PostgreSQL server of Debian's in a folder of its own, which refuses to run as root. */
export async function startPostgres(): Promise<PostgresServer> {
  const root = process.getuid?.() === 0
  const folder = mkdtempSync(join(tmpdir(), 'aequant-postgres-'))
  const data = join(folder, 'data')
  mkdirSync(data)
  if (root) {
    const id = (flag: string) => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }))
    for (const path of [folder, data]) chownSync(path, id('-u'), id('-g'))
  }
  const run = (program: string, args: string[]) => {
    const command = [join(bin(), program), ...args]
    const [file = '', ...rest] = root ? ['runuser', '-u', 'postgres', '--', ...command] : command
    execFileSync(file, rest, {
      stdio: 'ignore',
      cwd: folder,
      env: { ...process.env, ...(OFFSET !== 0 && shifted) },
    })
  }
  run('initdb', ['-D', data, '-U', 'postgres', '-A', 'trust', '-E', 'UTF8', '--locale=C'])
  const port = await freePort()
  const options = `-p ${port} -k ${folder} -c listen_addresses=127.0.0.1`
  const start = () => run('pg_ctl', ['-D', data, '-w', '-l', join(folder, 'log'), '-o', options, 'start'])
  start()
  return {
    url: `postgres://postgres@127.0.0.1:${port}/postgres`,
    start,
    stop: how => run('pg_ctl', ['-D', data, '-w', '-m', how, 'stop']),
    process: () => Number(readFileSync(join(data, 'postmaster.pid'), 'utf8').split('\n')[0]),
  }
}
