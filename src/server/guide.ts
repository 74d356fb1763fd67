import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'

const folder = () => join(process.cwd(), 'docs', 'guide')

export interface GuidePage {
  /** its name in addresses */
  name: string
  title: string
  text: string
}

/** The pages of the guide in their order: files begin with their number. */
export async function guidePages(): Promise<GuidePage[]> {
  const files = (await readdir(folder())).filter(file => /^\d\d-[a-z-]+\.md$/.test(file)).sort()
  return Promise.all(
    files.map(async file => {
      const text = await readFile(join(folder(), file), 'utf8')
      return {
        name: file.replace(/^\d\d-|\.md$/g, ''),
        title: /^# (.+)$/m.exec(text)?.[1] ?? file,
        text,
      }
    }),
  )
}

/** A picture of the guide; null for one that is not there. */
export async function guidePicture(name: string): Promise<Uint8Array<ArrayBuffer> | null> {
  if (!/^[a-z0-9-]+\.png$/.test(name)) return null
  return readFile(join(process.cwd(), 'docs', 'screenshots', name)).then(
    bytes => new Uint8Array(bytes),
    () => null,
  )
}
