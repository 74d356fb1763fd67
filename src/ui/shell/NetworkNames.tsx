'use client'
import { createContext, use, useCallback } from 'react'

/** Names of networks by ID. */
export type NetworkNames = Readonly<Record<string, string>>

export const NetworkNamesContext = createContext<NetworkNames>({})

/** Gives a network's name by its ID; the ID itself for one that has no profile. */
export function useNetworkName(): (id: string) => string {
  const names = use(NetworkNamesContext)
  return useCallback(id => (Object.hasOwn(names, id) ? names[id]! : id), [names])
}
