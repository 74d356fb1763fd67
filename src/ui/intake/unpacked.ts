import { Unzip, UnzipInflate } from 'fflate'

/** More than an archive of records holds; what unpacks to more may be made to fill a disk. */
const MOST_BYTES = 1_500_000_000
const MOST_FILES = 100

export const isArchive = (file: File): boolean => /\.zip$/i.test(file.name)

/**
 * The tables of a ZIP archive, piece by piece as it is read, so that nothing waits for it.
 *
 * @returns its files, and the names of those that are no tables
 * @throws Error in words where it cannot be read
 */
export async function unpacked(archive: File): Promise<{ files: File[]; others: string[] }> {
  const files: File[] = []
  const others: string[] = []
  let bytes = 0
  let unfinished = 0
  let problem = ''
  const unzip = new Unzip(entry => {
    const name = entry.name.split('/').at(-1) ?? ''
    if (name === '' || problem) return
    if (!/\.(csv|tsv|txt)$/i.test(name)) {
      others.push(name)
      return
    }
    const parts: Uint8Array<ArrayBuffer>[] = []
    entry.ondata = (error, part, isLast) => {
      bytes += part?.length ?? 0
      if (error) problem = `${archive.name} is damaged: ${name} cannot be unpacked.`
      else if (bytes > MOST_BYTES || files.length >= MOST_FILES)
        problem = `${archive.name} holds more than can be unpacked here: unpack it, and import its files one by one.`
      else parts.push(part as Uint8Array<ArrayBuffer>)
      if (isLast) unfinished -= 1
      if (isLast && !problem) files.push(new File(parts, name))
    }
    unfinished += 1
    entry.start()
  })
  unzip.register(UnzipInflate)
  const reader = archive.stream().getReader()
  try {
    for (let next = await reader.read(); !next.done && !problem; next = await reader.read())
      unzip.push(next.value)
    if (!problem) unzip.push(new Uint8Array(), true)
  } catch {
    problem ||= `${archive.name} is no ZIP archive, or damaged.`
  }
  if (!problem && unfinished > 0) problem = `${archive.name} is cut off before its end: download it again.`
  if (problem) throw new Error(problem)
  if (files.length === 0) throw new Error(`${archive.name} holds no tables.`)
  return { files, others }
}
