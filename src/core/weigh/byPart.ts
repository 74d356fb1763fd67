import type { AdTree, Leaf } from '../intake/tree'
import { nameKey, nameOf } from '../intake/tree'
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

/** The same tree with what the parts of each leaf's campaign's, ad set's and ad's names say, by `level.part`. */
export function readNames(tree: AdTree, rules: readonly NamingRule[]): AdTree {
  const known = new Map<string, Record<string, string>>()
  const partsAt = (leaf: Leaf, level: NamedLevel): Record<string, string> => {
    const id = idAt[level](leaf)
    const rule = id ? ruleFor(rules, leaf.network, level) : null
    if (!rule) return {}
    const key = nameKey(leaf.network, level, id)
    let parts = known.get(key)
    if (!parts) {
      const read = readName(rule, nameOf(tree, leaf.network, level, id)).parts ?? {}
      parts = Object.fromEntries(Object.entries(read).map(([part, value]) => [`${level}.${part}`, value]))
      known.set(key, parts)
    }
    return parts
  }
  const leaves = tree.leaves.map(leaf => ({
    ...leaf,
    parts: Object.assign({}, leaf.parts, ...namedLevels.map(level => partsAt(leaf, level))),
  }))
  return { ...tree, leaves }
}
