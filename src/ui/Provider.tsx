'use client'
import { ChakraProvider } from '@chakra-ui/react'
import { ThemeProvider } from 'next-themes'
import type { ReactNode } from 'react'
import { EmotionRegistry } from './EmotionRegistry'
import { system } from './theme/system'

/** @param nonce by which this page's own inline script is known (Content Security Policy) */
export function Provider({ nonce, children }: { nonce: string; children: ReactNode }) {
  return (
    <EmotionRegistry>
      <ChakraProvider value={system}>
        <ThemeProvider attribute="class" disableTransitionOnChange nonce={nonce}>
          {children}
        </ThemeProvider>
      </ChakraProvider>
    </EmotionRegistry>
  )
}
