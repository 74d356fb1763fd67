import { append } from '../shared/append'
import { pathKey } from '../shared/path'
import type { NameFinding } from './finding'
import { type NetworkProfile, type PlanLevel, spell } from './profile'

/** A campaign, ad set or ad with every name it was seen under, the present one last. */
export interface NamedEntity {
  level: PlanLevel
  id: string
  names: readonly string[]
  parentId?: string | null
}

/** What people leave when they do not name an entity. */
const DEFAULT_NAMES = [
  /^(new|untitled|unnamed|default|draft)\b/i,
  /^copy of\b|[\s-]+copy(\s*\d+)?$/i,
  /^(campaign|ad ?set|ad ?group|ad|line|post|folder|bid)[\s#_-]*\d*$/i,
]
/** Characters with a meaning of their own in an address. */
const RESERVED = /[&?#=/+%]/g

/** Findings about names: left at the default, changed, doubled within a parent, or awkward in an address. */
export function nameFindings(entities: readonly NamedEntity[], profile?: NetworkProfile): NameFinding[] {
  const findings: NameFinding[] = []
  const byName = new Map<string, NamedEntity[]>()
  for (const entity of entities) {
    const at = { part: 'name', level: entity.level, id: entity.id } as const
    const name = entity.names.at(-1) ?? ''
    if (DEFAULT_NAMES.some(pattern => pattern.test(name)))
      findings.push({ code: 'default_name', severity: 'warning', at, name })
    if (entity.names.some(n => n !== name))
      findings.push({ code: 'name_changed', severity: 'warning', at, names: [...entity.names] })
    const characters = [...new Set(name.match(RESERVED))].join('')
    if (characters && (!profile || spell(profile.dialect, `${entity.level}.name`) !== null))
      findings.push({ code: 'reserved_character_in_name', severity: 'hint', at, name, characters })
    if (name) {
      append(byName, pathKey(entity.level, entity.parentId ?? '', name), entity)
    }
  }
  for (const same of byName.values()) {
    const ids = [...new Set(same.map(t => t.id))]
    const first = same[0]
    if (first && ids.length > 1)
      findings.push({
        code: 'duplicate_name',
        severity: 'warning',
        at: { part: 'name', level: first.level, id: first.id },
        name: first.names.at(-1) ?? '',
        ids,
      })
  }
  return findings
}
