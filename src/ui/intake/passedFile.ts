/** A file that was dropped on a screen which cannot take it, on its way to the one that can. */
let passed: File | null = null

export const passFile = (file: File): void => {
  passed = file
}
/** The file that is on its way here, once. */
export function takePassedFile(): File | null {
  const file = passed
  passed = null
  return file
}
