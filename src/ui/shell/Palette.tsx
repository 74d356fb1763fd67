'use client'
import { Command } from 'cmdk'
import { useRouter, useSearchParams } from 'next/navigation'
import { useTheme } from 'next-themes'
import { useDeferredValue, useState } from 'react'
import { zoneClock } from '@/core/shared/days'
import { usualPeriods } from '@/core/shared/periods'
import type { Found } from '@/server/find'
import { useFormats } from '../format'
import { words } from '../help/words'
import { useServer } from '../parts/useServer'
import type { Frame } from './frame'
import { useNetworkName } from './NetworkNames'
import { type Part, partsOf, places } from './stations'
import { keptQuery, useScope } from './useScope'

/** Finds pages, actions, periods, networks, ads, orders, links and rules by a few letters. */
export function Palette({
  frame,
  close,
  actions,
}: {
  frame: Frame
  close: () => void
  /** what can be done from anywhere */
  actions: { name: string; does: string; act: () => void }[]
}) {
  const router = useRouter()
  const query = keptQuery(useSearchParams())
  const networkName = useNetworkName()
  const { day, zone, firstWeekday } = useFormats()
  const { set } = useScope()
  const { resolvedTheme, setTheme } = useTheme()
  const [text, setText] = useState('')
  // What was found last stays until there is more; pages, periods and networks are found without it.
  const asked = `/api/find?${new URLSearchParams({ q: useDeferredValue(text) })}`
  const { answer: found = [] } = useServer<Found[]>(asked, { keepPreviousData: true })
  const go = (act: () => void) => () => {
    close()
    act()
  }
  const opening = (path: string) =>
    go(() => router.push(path + (path.includes('?') ? query.replace('?', '&') : query)))
  const pages = places.flatMap(({ path, name, does }): (Part & { of: string })[] =>
    (partsOf[path] ?? [{ href: path, name, does }]).map(part => ({ ...part, of: name })),
  )
  return (
    <Command.Dialog
      open
      onOpenChange={close}
      label="Find"
      className="palette"
      overlayClassName="palette-veil"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="Page, action, period, network, ad, order, link or rule …"
      />
      <Command.List>
        <Command.Empty>Nothing by that name.</Command.Empty>
        <Command.Group heading="Pages">
          {pages.map(({ href, name, does, of }) => (
            <Command.Item key={href} value={`${of} ${name} ${does}`} onSelect={opening(href)}>
              {of && of !== name ? `${of}: ` : ''}
              {name} <small>{does}</small>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Actions">
          {[
            ...actions,
            {
              name: resolvedTheme === 'dark' ? 'Light' : 'Dark',
              does: 'change how it looks',
              act: () => setTheme(resolvedTheme === 'dark' ? 'light' : 'dark'),
            },
          ].map(({ name, does, act }) => (
            <Command.Item key={name} value={`${name} ${does}`} onSelect={go(act)}>
              {name} <small>{does}</small>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Period">
          {usualPeriods(zoneClock(zone)(Date.now()).day, frame.span, firstWeekday).map(
            ({ name, from, to }) => (
              <Command.Item
                key={name}
                value={`period ${name} ${from} ${to}`}
                onSelect={go(() => set({ from, to }))}
              >
                {name}{' '}
                <small>
                  {day(from)} – {day(to)}
                </small>
              </Command.Item>
            ),
          )}
        </Command.Group>
        <Command.Group heading="Network">
          <Command.Item onSelect={go(() => set({ network: null }))}>all networks</Command.Item>
          {frame.networks.map(({ id, name }) => (
            <Command.Item key={id} value={`${name} only ${id}`} onSelect={go(() => set({ network: id }))}>
              {name} <small>only</small>
            </Command.Item>
          ))}
        </Command.Group>
        {text.length > 2 && (
          <Command.Group heading="Words">
            {Object.entries(words).map(([word, meaning]) => (
              <Command.Item
                key={word}
                value={`what is ${word}`}
                onSelect={go(() => router.push(`/guide/words#${word.replaceAll(' ', '-')}`))}
              >
                {word.replaceAll('_', ' ')} <small>{meaning}</small>
              </Command.Item>
            ))}
          </Command.Group>
        )}
        <Command.Group heading="Ads, orders, links and rules">
          {found.map(one => {
            const { key, path, name, does } = described(one, networkName)
            return (
              <Command.Item key={key} value={`${name} ${does} ${key}`} onSelect={opening(path)}>
                {name} <small>{does}</small>
              </Command.Item>
            )
          })}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  )
}

/** What a find is called, and where it is opened. */
function described(one: Found, networkName: (id: string) => string) {
  switch (one.kind) {
    case 'ad':
      return {
        key: `ad ${one.network}/${one.id}`,
        path: `/links?${new URLSearchParams({ ad: `${one.network}/${one.id}` })}`,
        name: one.name,
        does: `${one.campaign} · ${networkName(one.network)}`,
      }
    case 'order':
      return {
        key: `order ${one.id}`,
        path: `/intake/orders/${encodeURIComponent(one.id)}`,
        name: one.id,
        does: `order, ${one.status.replace('_', ' ')}`,
      }
    case 'link':
      return {
        key: `link ${one.code}`,
        path: `/links/library?${new URLSearchParams({ code: one.code })}`,
        name: one.title,
        does: `saved link ${one.code}`,
      }
    case 'rule':
      return {
        key: `rule ${one.id}`,
        path: `/signals?${new URLSearchParams({ rule: one.id })}`,
        name: one.result,
        does: `rule ${one.id}`,
      }
  }
}
