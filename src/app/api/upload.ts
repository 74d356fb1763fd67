const MOST_BYTES = 200 * 1024 * 1024

/** The refusal of a body that is too large to be read at once; null for one that is not. */
export const tooLarge = (request: Request): Response | null =>
  Number(request.headers.get('content-length') ?? 0) > MOST_BYTES
    ? Response.json({ error: 'The file is over 200 MB; split it.' }, { status: 413 })
    : null

/** The name of the file that a body was read from, where the sender says it. */
export function fileNameOf(request: Request): string | undefined {
  const name = request.headers.get('x-file-name')
  return name ? decodeURIComponent(name).slice(0, 200) : undefined
}
