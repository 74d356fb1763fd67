import workerpool from 'workerpool'
import type { ReadAs } from '@/core/intake/readAs'
import { FileRefused } from '@/formats/csv'
import { tableText } from '@/formats/workbook'

export type Opened = Awaited<ReturnType<typeof tableText>> | { refused: Pick<FileRefused, 'code' | 'facts'> }

/** Opens a file in a thread that may be ended: nobody knows what is in it. */
async function open(bytes: Uint8Array, file: string, asked: Partial<ReadAs>): Promise<Opened> {
  try {
    return await tableText(bytes, file, asked)
  } catch (error) {
    if (error instanceof FileRefused) return { refused: { code: error.code, facts: error.facts } }
    throw error
  }
}

workerpool.worker({ open })
