/** A text that stands for these parts in this order and for no others: a key to look them up by. */
export const pathKey = (...parts: readonly string[]): string => JSON.stringify(parts)

/** The parts that a key of `pathKey` stands for. */
export const readPath = (key: string): string[] => JSON.parse(key)
