import '@fontsource-variable/schibsted-grotesk'
import '@fontsource-variable/spline-sans-mono'
import '@/ui/global.css'
import type { Metadata } from 'next'
import localFont from 'next/font/local'
import { headers } from 'next/headers'
import type { CSSProperties, ReactNode } from 'react'
import { Provider } from '@/ui/Provider'

/**
 * The text face for the first paint: fetched ahead, and with a stand-in of the same width, so that no heading
 * jumps when it arrives. Letters of other scripts come from the face's own files.
 */
const textFace = localFont({
  src: '../../node_modules/@fontsource-variable/schibsted-grotesk/files/schibsted-grotesk-latin-wght-normal.woff2',
  weight: '400 900',
})
const [face, standIn] = textFace.style.fontFamily.split(', ')

export const metadata: Metadata = {
  title: { default: 'Aequant', template: '%s · Aequant' },
  description: 'What one result cost, with the evidence behind it.',
}

export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? ''
  return (
    <html
      lang="en"
      suppressHydrationWarning
      style={{ '--text-face': face, '--text-stand-in': standIn } as CSSProperties}
    >
      <body>
        <Provider nonce={nonce}>{children}</Provider>
      </body>
    </html>
  )
}
