/** A pattern of words in any script: those of letters with an alphabet stand by themselves, others anywhere. */
export function anyOf(words: string): RegExp {
  const list = words.split('|')
  const isSpelled = (word: string) => /^[\p{Script=Latin} ?():]+$/u.test(word)
  const [spelled, drawn] = [list.filter(isSpelled), list.filter(word => !isSpelled(word))]
  return new RegExp([`(?<!\\p{L})(?:${spelled.join('|')})(?!\\p{L})`, ...drawn].join('|'), 'u')
}

/** Words in small letters without marks above them. */
export const plainWords = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/(?<=\p{Script=Latin})\p{M}+/gu, '')
    .normalize('NFKC')
    .toLowerCase()
    .replace(/ł/g, 'l')
    .replace(/[^\p{L}\p{N}#%]+/gu, ' ')
    .trim()
