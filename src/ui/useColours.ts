'use client'
import { useToken } from '@chakra-ui/react'
import { useTheme } from 'next-themes'
import { useEffect, useState } from 'react'

/** The colours of charts as they are now (network, shop, ink, quiet, hairline); the canvas knows no theme. */
export function useColours() {
  const { resolvedTheme } = useTheme()
  const names = useToken('colors', ['network', 'shop', 'ink', 'quiet', 'hairline'])
  const [colours, setColours] = useState<string[]>([])
  useEffect(() => {
    void resolvedTheme
    const style = getComputedStyle(document.documentElement)
    const read = (name: string) => style.getPropertyValue(/--[\w-]+/.exec(name)?.[0] ?? '').trim() || name
    // The class on the root changes in an effect of its own: read after it.
    const frame = requestAnimationFrame(() => setColours(names.map(read)))
    return () => cancelAnimationFrame(frame)
  }, [resolvedTheme, names])
  return colours
}
