'use client'
import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { useServerInsertedHTML } from 'next/navigation'
import { type ReactNode, useState } from 'react'

/** Sends the styles that were made while rendering on the server in the head, so that the page hydrates as it came. */
export function EmotionRegistry({ children }: { children: ReactNode }) {
  const [{ cache, flush }] = useState(() => {
    const cache = createCache({ key: 'aq' })
    cache.compat = true
    const insert = cache.insert
    let inserted: string[] = []
    cache.insert = (...args) => {
      const [, serialized] = args
      if (cache.inserted[serialized.name] === undefined) inserted.push(serialized.name)
      return insert(...args)
    }
    const flush = () => {
      const names = inserted
      inserted = []
      return names
    }
    return { cache, flush }
  })
  useServerInsertedHTML(() => {
    const names = flush()
    if (names.length === 0) return null
    const styles = names
      .map(name => cache.inserted[name])
      .filter(s => typeof s === 'string')
      .join('')
    return (
      <style data-emotion={`${cache.key} ${names.join(' ')}`} dangerouslySetInnerHTML={{ __html: styles }} />
    )
  })
  return <CacheProvider value={cache}>{children}</CacheProvider>
}
