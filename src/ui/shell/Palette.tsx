'use client'
import { Command } from 'cmdk'
import { useRouter, useSearchParams } from 'next/navigation'
import { useDeferredValue, useEffect, useState } from 'react'
import type { Frame } from './frame'
import { useNetworkName } from './NetworkNames'
import { stations } from './stations'
import { keptQuery, useScope } from './useScope'

interface FoundAd {
  network: string
  id: string
  name: string
  campaign: string
}
/** Ads by a few letters, asked for while they are typed; those found last stay until the next are here. */
function useFoundAds(open: boolean, text: string): FoundAd[] {
  const [ads, setAds] = useState<FoundAd[]>([])
  useEffect(() => {
    if (!open) return
    const asked = new AbortController()
    fetch(`/api/find?${new URLSearchParams({ q: text })}`, { signal: asked.signal })
      .then(async response => response.ok && setAds(await response.json()))
      // Stations and networks are found without it.
      .catch(() => {})
    return () => asked.abort()
  }, [open, text])
  return ads
}

/** Finds stations, networks, periods and ads by a few letters. */
export function Palette({
  frame,
  open,
  setOpen,
}: {
  frame: Frame
  open: boolean
  setOpen: (open: boolean) => void
}) {
  const networkName = useNetworkName()
  const router = useRouter()
  const query = keptQuery(useSearchParams())
  const { set } = useScope()
  const [text, setText] = useState('')
  const ads = useFoundAds(open, useDeferredValue(text))
  const go = (act: () => void) => () => {
    setOpen(false)
    act()
  }
  return (
    <Command.Dialog
      open={open}
      onOpenChange={setOpen}
      label="Find"
      className="palette"
      overlayClassName="palette-veil"
    >
      <Command.Input value={text} onValueChange={setText} placeholder="Station, network or ad …" />
      <Command.List>
        <Command.Empty>Nothing by that name.</Command.Empty>
        <Command.Group heading="Stations">
          {stations.map(s => (
            <Command.Item key={s.path} onSelect={go(() => router.push(s.path + query))}>
              {s.name} <small>{s.does}</small>
            </Command.Item>
          ))}
          <Command.Item onSelect={go(() => router.push(`/intake/import${query}`))}>
            Import <small>take in CSV files</small>
          </Command.Item>
        </Command.Group>
        <Command.Group heading="Scope">
          <Command.Item onSelect={go(() => set({ network: null }))}>all networks</Command.Item>
          {frame.networks.map(({ id, name }) => (
            <Command.Item key={id} value={`${name} ${id}`} onSelect={go(() => set({ network: id }))}>
              {name} <small>only</small>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Ads">
          {ads.map(ad => (
            <Command.Item
              key={`${ad.network}/${ad.id}`}
              value={`${ad.name} ${ad.campaign} ${networkName(ad.network)} ${ad.id}`}
              onSelect={go(() =>
                router.push(`/links?ad=${ad.network}/${encodeURIComponent(ad.id)}${query.replace('?', '&')}`),
              )}
            >
              {ad.name}{' '}
              <small>
                {ad.campaign} · {networkName(ad.network)}
              </small>
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  )
}
