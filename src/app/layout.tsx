import '@fontsource-variable/schibsted-grotesk'
import '@fontsource-variable/spline-sans-mono'
import '@/ui/global.css'
import type { Metadata } from 'next'
import { headers } from 'next/headers'
import type { ReactNode } from 'react'
import { Provider } from '@/ui/Provider'

export const metadata: Metadata = {
  title: { default: 'Aequant', template: '%s · Aequant' },
  description: 'What one result cost, with the evidence behind it.',
}

export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? ''
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Provider nonce={nonce}>{children}</Provider>
      </body>
    </html>
  )
}
