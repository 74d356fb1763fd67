// Who holds a port of this machine, so that a message can say what to end.
import { readdirSync, readFileSync, readlinkSync } from 'node:fs'
import { createServer } from 'node:net'

const LISTENING = '0A'

/** @param {string} path */
function lines(path) {
  try {
    return readFileSync(path, 'utf8').trim().split('\n').slice(1)
  } catch {
    return []
  }
}

/**
 * The process that listens on a port, as far as this system tells (proc(5)).
 *
 * @param {number} port
 * @returns {{ pid: number, command: string } | null}
 */
function holderOf(port) {
  const sockets = new Set(
    ['/proc/net/tcp', '/proc/net/tcp6'].flatMap(lines).flatMap(line => {
      const [, local = '', , state, , , , , , inode] = line.trim().split(/\s+/)
      return state === LISTENING && Number.parseInt(local.split(':')[1] ?? '', 16) === port
        ? [`socket:[${inode}]`]
        : []
    }),
  )
  if (sockets.size === 0) return null
  for (const pid of readdirSync('/proc').filter(name => /^\d+$/.test(name))) {
    try {
      const fds = readdirSync(`/proc/${pid}/fd`)
      if (!fds.some(fd => sockets.has(readlinkSync(`/proc/${pid}/fd/${fd}`)))) continue
      const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').trim()
      return { pid: Number(pid), command: command.slice(0, 120) }
    } catch {
      // It ended meanwhile, or is somebody else's.
    }
  }
  return null
}

/**
 * What to do about a port that cannot be had; null when it is free.
 *
 * @param {number} port
 * @param {string} host
 * @param {string} variable the environment variable that chooses another
 * @returns {Promise<string | null>}
 */
export function portProblem(port, host, variable) {
  return new Promise(done => {
    const server = createServer()
    server.once('error', error => {
      const code = 'code' in error ? error.code : ''
      if (code !== 'EADDRINUSE') return done(`Nothing can listen on ${host}:${port}: ${error.message}`)
      const holder = holderOf(port)
      done(
        holder
          ? `Port ${port} is taken by process ${holder.pid} (${holder.command}). End it with: kill ${holder.pid}. Or set ${variable} to another port.`
          : `Port ${port} is taken by another process. End that, or set ${variable} to another port.`,
      )
    })
    server.listen(port, host, () => server.close(() => done(null)))
  })
}
