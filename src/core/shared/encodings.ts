/** Encodings in which files are read, by their names in the Encoding standard of WHATWG. */
export const encodings = [
  'utf-8',
  'utf-16le',
  'utf-16be',
  'windows-1252',
  'windows-1250',
  'iso-8859-2',
  'windows-1251',
  'shift_jis',
  'gb18030',
] as const
export type Encoding = (typeof encodings)[number]
