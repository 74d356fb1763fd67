'use client'
import { useRef, useState } from 'react'
import type { ReadAs } from '@/core/intake/readAs'
import { cancelSending, type Progress, sendFile } from './sendFile'

const LOOKED_AT_BYTES = 256 * 1024

/**
 * A file of any columns on its way through its steps: looked at, compared with what is held, taken in.
 *
 * @param address of a step
 */
export function useFileSteps(address: (step: string) => string) {
  const [busy, setBusy] = useState('')
  const [problem, setProblem] = useState('')
  const [progress, setProgress] = useState<Progress | null>(null)
  const job = useRef('')
  /** Posts the file to one of its steps; null where something is wrong, which is said. */
  async function send<Outcome extends object>(
    step: 'look' | 'compare' | 'take',
    file: File,
    what: string,
    mapping?: object | null,
    asked?: ReadAs,
  ): Promise<Outcome | null> {
    setBusy(what)
    setProgress(null)
    setProblem('')
    job.current = crypto.randomUUID()
    // A workbook and a list in JSON can only be read whole.
    const part = step === 'look' && !/\.(xlsx|json)$/i.test(file.name) ? file.slice(0, LOOKED_AT_BYTES) : file
    const outcome = await sendFile<Outcome>(
      address(step),
      part,
      {
        'x-file-name': encodeURIComponent(file.name),
        ...(asked?.encoding && { 'x-encoding': asked.encoding }),
        ...(asked?.sheet && { 'x-sheet': encodeURIComponent(asked.sheet) }),
        ...(mapping && { 'x-mapping': encodeURIComponent(JSON.stringify(mapping)) }),
      },
      setProgress,
      job.current,
    )
    setBusy('')
    if (!('error' in outcome)) return outcome
    setProblem(outcome.error)
    return null
  }
  return { send, busy, setBusy, problem, setProblem, progress, stop: () => cancelSending(job.current) }
}
