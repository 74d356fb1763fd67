import { type FileHandle, mkdir, open } from 'node:fs/promises'
import { join } from 'node:path'

const SEGMENT_BYTES = 64 * 1024 * 1024

/** Segments sort by name in the order in which they were begun. */
const segmentName = (at: number) => `${String(at).padStart(15, '0')}.ndjson`

interface Waiting {
  line: string
  resolve: () => void
  reject: (error: unknown) => void
}

/**
 * An append-only journal of JSON lines. A promise that `append` gives is kept only when the record is on
 * disk (`fdatasync`); all records that wait while one flush runs share the next.
 */
export class Journal {
  private waiting: Waiting[] = []
  private writing = false
  private size = 0
  private handle: FileHandle | null = null
  records = 0

  constructor(
    private readonly folder: string,
    private readonly now: () => number,
  ) {}

  append(record: object): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ line: `${JSON.stringify(record)}\n`, resolve, reject })
      if (!this.writing) void this.flush()
    })
  }

  private async flush(): Promise<void> {
    this.writing = true
    while (this.waiting.length > 0) {
      const batch = this.waiting
      this.waiting = []
      try {
        await this.write(batch.map(w => w.line).join(''))
        this.records += batch.length
        for (const { resolve } of batch) resolve()
      } catch (error) {
        // A write that failed half-way may have left a torn line: what follows goes to a new segment.
        await this.handle?.close().catch(() => {})
        this.handle = null
        for (const { reject } of batch) reject(error)
      }
    }
    this.writing = false
  }

  private async write(text: string): Promise<void> {
    if (this.handle === null || this.size > SEGMENT_BYTES) {
      await this.handle?.close()
      await mkdir(this.folder, { recursive: true })
      this.handle = await open(join(this.folder, segmentName(this.now())), 'a')
      this.size = 0
    }
    await this.handle.appendFile(text)
    await this.handle.datasync()
    this.size += Buffer.byteLength(text)
  }

  async close(): Promise<void> {
    await this.handle?.close()
    this.handle = null
  }
}
