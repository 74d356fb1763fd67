import { closeSync, constants, fsyncSync, mkdirSync, openSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { listSegments, nextSegment } from '@/formats/journalFolder'
import { writeLine } from '@/formats/journalLine'

const { O_APPEND, O_CREAT, O_DSYNC, O_EXCL, O_WRONLY } = constants
/** A write returns when it is on disk, as if `fdatasync` followed, in one call instead of two. */
const DURABLE_APPEND = O_WRONLY | O_APPEND | O_CREAT | O_EXCL | O_DSYNC
const SEGMENT_BYTES = 64 * 1024 * 1024
/** Turns of the event loop that a write waits for company. */
const MOST_TURNS = 16

interface Waiting {
  lines: string
  records: number
  resolve: () => void
  reject: (error: unknown) => void
}

/**
 * An append-only journal, one line a record. A promise that `append` gives is kept only when its records
 * are on disk (`O_DSYNC`); all that come in the same few turns of the event loop share one write.
 *
 * The write blocks on purpose (docs/decisions/005): nothing may be answered before it anyway, and handing
 * it to a thread costs more than the disk does.
 */
export class Journal {
  private waiting: Waiting[] = []
  private flushing = false
  private segment: { file: number; size: number } | null = null
  private lastBatch = 0
  records = 0
  /** whether the last write failed: the disk is full, or gone */
  failing = false

  /** @param wrote hears after each write how many seconds it took until it was on disk */
  constructor(
    private readonly folder: string,
    private readonly wrote: (seconds: number) => void = () => {},
  ) {}

  append(...records: object[]): Promise<void> {
    return new Promise((resolve, reject) => {
      const lines = records.map(writeLine).join('')
      this.waiting.push({ lines, records: records.length, resolve, reject })
      if (!this.flushing) {
        this.flushing = true
        setImmediate(() => this.flush(1))
      }
    })
  }

  /** Where many came at once a moment ago, as many are about to: they are waited for. One alone is not. */
  private flush(turn: number): void {
    if (turn < MOST_TURNS && this.waiting.length < this.lastBatch * 0.9)
      return void setImmediate(() => this.flush(turn + 1))
    const batch = this.waiting
    this.waiting = []
    this.flushing = false
    this.lastBatch = batch.length
    try {
      this.write(batch.map(w => w.lines).join(''))
      this.failing = false
      for (const { records, resolve } of batch) {
        this.records += records
        resolve()
      }
    } catch (error) {
      this.failing = true
      for (const { reject } of batch) reject(error)
    }
  }

  private write(lines: string): void {
    const segment = (this.segment ??= this.open())
    const began = performance.now()
    try {
      // The first line break ends what a write that was cut short may have left before this one.
      const bytes = Buffer.from(`\n${lines}`)
      if (writeSync(segment.file, bytes) < bytes.length) throw new Error('The disk took only a part.')
      segment.size += bytes.length
      this.wrote((performance.now() - began) / 1000)
    } catch (error) {
      this.close()
      throw error
    }
    if (segment.size > SEGMENT_BYTES) this.close()
  }

  private open() {
    mkdirSync(this.folder, { recursive: true, mode: 0o700 })
    const name = nextSegment(listSegments(this.folder))
    const segment = { file: openSync(join(this.folder, name), DURABLE_APPEND, 0o600), size: 0 }
    // The file's name must be on disk as well as what is in it.
    const folder = openSync(this.folder, constants.O_RDONLY)
    fsyncSync(folder)
    closeSync(folder)
    return segment
  }

  close(): void {
    const segment = this.segment
    this.segment = null
    if (segment) closeSync(segment.file)
  }
}
