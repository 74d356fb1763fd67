import type { NetworkProfile } from '@/core/links/profile'

/** A profile as it is written: what the schema has not looked at yet. */
export type ProfileDraft = Partial<Record<keyof NetworkProfile, unknown>>

export const asRecord = (value: unknown): Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? (value as Record<string, unknown>)
    : {}
export const asList = (value: unknown): unknown[] => (Array.isArray(value) ? value : [])
export const asText = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : ''

/** A record with one entry set; an empty text takes it out. */
export function withEntry(record: Record<string, unknown>, key: string, value: string) {
  const { [key]: _, ...rest } = record
  return value === '' ? rest : { ...rest, [key]: value }
}
