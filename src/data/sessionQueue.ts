import type { PGlite } from '@electric-sql/pglite'

interface Waiting {
  client: number
  message: Uint8Array
  hear: (bytes: Uint8Array) => void
  done: (bytes: number) => void
  fail: (error: unknown) => void
}

// Types of the messages of PostgreSQL's frontend/backend protocol (PostgreSQL, 55.7).
const QUERY = 0x51
const SYNC = 0x53
const TERMINATE = 0x58
const READY_FOR_QUERY = 0x5a
const IDLE = 0x49
const READY_LENGTH = 6
const syncMessage = Uint8Array.of(SYNC, 0, 0, 0, 4)

/** What the queue needs of PGlite. */
type Session = Pick<PGlite, 'execProtocolRawStream' | 'runExclusive' | 'exec'>

/**
 * Lends PGlite's only session to one client of its socket at a time: from a client's first message until
 * the answer that says that no statement and no transaction of its is open. So the parts of two clients'
 * queries never mix; and when a client goes away in the midst, what it had begun is rolled back and the
 * next one gets the session.
 *
 * It takes the place of the socket server's own queue, which waits for a client for ever that went away while
 * its `begin` was on the way, and stands still after a failed message.
 */
export class SessionQueue {
  private waiting: Waiting[] = []
  private holder: number | null = null
  private holderGone = false
  private working = false
  /** whether the session told, in its last answer, that a transaction is open */
  private open = false

  constructor(
    private readonly session: Session,
    /** done before a client gets the session */
    private readonly beforeTurn?: () => Promise<void>,
  ) {}

  enqueue(client: number, message: Uint8Array, hear: (bytes: Uint8Array) => void): Promise<number> {
    return new Promise((done, fail) => {
      this.waiting.push({ client, message, hear, done, fail })
      void this.work()
    })
  }

  getQueueLength(): number {
    return this.waiting.length
  }

  /** A client went away: what it still wanted is dropped. */
  clearQueueForHandler(client: number): void {
    const dropped = this.waiting.filter(one => one.client === client)
    this.waiting = this.waiting.filter(one => one.client !== client)
    for (const { fail } of dropped) fail(new Error('The client went away.'))
    if (this.holder === client) this.holderGone = true
  }

  /** A client went away: what it left open is rolled back. */
  async clearTransactionIfNeeded(client: number): Promise<void> {
    if (this.holder === client) this.holderGone = true
    await this.work()
  }

  private async work(): Promise<void> {
    if (this.working) return
    this.working = true
    try {
      for (;;) {
        if (this.holder !== null && this.holderGone) await this.reclaim()
        const one = this.takeNext()
        if (!one) return
        try {
          if (this.holder === null) await this.beforeTurn?.()
          this.holder = one.client
          one.done(await this.send(one.message, one.hear))
        } catch (error) {
          // The socket server closes a client whose message failed, which then counts as gone.
          one.fail(error)
        }
        if (endsTurn(one.message) && !this.open) this.holder = null
      }
    } finally {
      this.working = false
    }
  }

  private takeNext(): Waiting | undefined {
    if (this.holder === null) return this.waiting.shift()
    const at = this.waiting.findIndex(one => one.client === this.holder)
    return at < 0 ? undefined : this.waiting.splice(at, 1)[0]
  }

  private async send(message: Uint8Array, hear: (bytes: Uint8Array) => void): Promise<number> {
    let heard = 0
    let end = new Uint8Array()
    const onRawData = (bytes: Uint8Array) => {
      heard += bytes.length
      end = Uint8Array.from([...end, ...bytes.subarray(-READY_LENGTH)].slice(-READY_LENGTH))
      hear(bytes)
    }
    await this.session.runExclusive(() => this.session.execProtocolRawStream(message, { onRawData }))
    if (end[0] === READY_FOR_QUERY && end.length === READY_LENGTH) this.open = end[READY_LENGTH - 1] !== IDLE
    return heard
  }

  /** Takes the session back from a client that went away, whatever it had begun. */
  private async reclaim(): Promise<void> {
    try {
      await this.send(syncMessage, () => {})
      if (this.open) await this.session.exec('rollback')
    } catch (error) {
      console.error('What a client left open could not be rolled back.', error)
    }
    this.open = false
    this.holder = null
    this.holderGone = false
  }
}

/** Whether a client may be at its end with a message: a start, a whole query, or the end of one in parts. */
const endsTurn = ([type]: Uint8Array): boolean =>
  type === QUERY || type === SYNC || type === TERMINATE || type === 0
