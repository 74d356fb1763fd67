import '@fontsource-variable/schibsted-grotesk'
import '@fontsource-variable/spline-sans-mono'
import '@/ui/global.css'
import type { Metadata } from 'next'
import type { ReactNode } from 'react'
import { Provider } from '@/ui/Provider'

export const metadata: Metadata = {
  title: 'Aequant',
  description: 'What one result cost, with the evidence behind it.',
}

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Provider>{children}</Provider>
      </body>
    </html>
  )
}
