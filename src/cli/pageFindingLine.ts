import type { PageFinding } from '@/core/signals/pageCheck'

/** One finding of a page check as a line of text. */
export function pageFindingLine({ code, severity, at, network, event, seen }: PageFinding): string {
  const place = 'line' in at ? `line ${at.line}` : 'request' in at ? `request ${at.request}` : at.page
  const facts = [network, event, seen].filter(Boolean).join(', ')
  return `${severity.padEnd(8)}${code.padEnd(22)}${place} (${facts})`
}
