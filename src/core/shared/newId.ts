/**
 * An ID for something by its name in any script, other than those that are taken.
 *
 * @param without what it is called where the name has no letter that an ID may have
 * @example
 * newId('Über-Anruf', ['uber-anruf'], 'result') // 'uber-anruf-2'
 */
export function newId(name: string, taken: readonly string[], without: string): string {
  const latin = name
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 32)
    .replace(/^-+|-+$/g, '')
  const base = latin || without
  let id = base
  for (let n = 2; taken.includes(id); n++) id = `${base}-${n}`
  return id
}
