import { beforeEach, describe, expect, it, vi } from 'vitest'

/** A browser's storage; one that is refused throws at any touch. */
function storage(refused = false) {
  const held = new Map<string, string>()
  const may = () => {
    if (refused) throw new DOMException('refused', 'SecurityError')
    return held
  }
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => may().get(key) ?? null,
    setItem: (key: string, value: string) => may().set(key, value),
    removeItem: (key: string) => may().delete(key),
  })
  return held
}
/** A page that is opened anew. */
async function opened() {
  vi.resetModules()
  return await import('./memory')
}

describe('what a browser is remembered by', () => {
  beforeEach(() => {
    storage()
    return () => vi.unstubAllGlobals()
  })

  it('is there on the next page, once it was saved', async () => {
    const first = await opened()
    first.remember({ ...first.recall(), visitor: 'v1' })
    first.remember({ ...first.recall(), last: { utm_source: 'kelpie' } })
    first.save()
    expect((await opened()).recall()).toEqual({ visitor: 'v1', last: { utm_source: 'kelpie' } })
  })

  it('lives as long as the page where storage is refused', async () => {
    storage(true)
    const { recall, remember, save } = await opened()
    remember({ visitor: 'v1' })
    save()
    expect(recall()).toEqual({ visitor: 'v1' })
    expect((await opened()).recall()).toEqual({})
  })

  it('is gone when it is forgotten, from the page and from the storage', async () => {
    const held = storage()
    const { forget, recall, remember, save } = await opened()
    remember({ visitor: 'v1' })
    save()
    remember({ visitor: 'v2' })
    forget()
    save()
    expect([recall(), [...held.keys()]]).toEqual([{}, []])
  })

  it('is never what was sent of who may not be followed', async () => {
    const held = storage()
    const { keepWaiting, recall, save, waitingOf } = await opened()
    keepWaiting(false, [{ event: 1 }])
    save()
    expect(waitingOf(false)).toEqual([{ event: 1 }])
    expect(waitingOf(true)).toEqual([])
    expect([recall(), [...held.values()].join()]).toEqual([{}, expect.not.stringContaining('event')])
  })

  it('is nothing where somebody else wrote what cannot be read', async () => {
    storage().set('aequant', '{"visitor":')
    expect((await opened()).recall()).toEqual({})
  })
})
