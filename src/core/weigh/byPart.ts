import type { AdTree, Leaf } from '../intake/tree'
import { nameOf } from '../intake/tree'
import { type NamedLevel, type NamingRule, namedLevels, readName, ruleFor } from '../links/naming'

/** A part of names by which rows can be grouped. */
export interface NameDimension {
  /** `level.part` */
  id: string
  level: NamedLevel
  part: string
}

const idAt: Record<NamedLevel, (leaf: Leaf) => string> = {
  campaign: leaf => leaf.campaign,
  ad_set: leaf => leaf.adSet,
  ad: leaf => leaf.ad,
}

/** The parts of all naming rules, those of campaigns first; each once however many rules have it. */
export function dimensionsOf(rules: readonly NamingRule[]): NameDimension[] {
  const found = new Map<string, NameDimension>()
  for (const level of namedLevels)
    for (const rule of rules.filter(r => r.level === level))
      for (const { name: part } of rule.parts)
        found.set(`${level}.${part}`, { id: `${level}.${part}`, level, part })
  return [...found.values()]
}

const namedBy = new WeakMap<AdTree, string>()
/** Notes at every leaf what the parts of its campaign's, ad set's and ad's names say, by `level.part`. */
export function nameLeaves(tree: AdTree, rules: readonly NamingRule[]): void {
  const by = JSON.stringify(rules)
  if (namedBy.get(tree) === by) return
  namedBy.set(tree, by)
  const known = new Map<string, Record<string, string>>()
  const partsAt = (leaf: Leaf, level: NamedLevel): Record<string, string> => {
    const id = idAt[level](leaf)
    const rule = id ? ruleFor(rules, leaf.network, level) : null
    if (!rule) return {}
    const key = `${leaf.network}\u001f${level}\u001f${id}`
    let parts = known.get(key)
    if (!parts) {
      const read = readName(rule, nameOf(tree, leaf.network, level, id)).parts ?? {}
      parts = Object.fromEntries(Object.entries(read).map(([part, value]) => [`${level}.${part}`, value]))
      known.set(key, parts)
    }
    return parts
  }
  for (const leaf of tree.leaves)
    leaf.parts = Object.assign({}, ...namedLevels.map(level => partsAt(leaf, level)))
}
