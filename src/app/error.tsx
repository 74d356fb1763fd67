'use client'
import { Failed } from '@/ui/shell/Failed'

/** What is shown in place of a page that could not be made. */
export default function Page({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return <Failed error={error} again={reset} />
}
