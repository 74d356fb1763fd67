import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { pathKey } from '../shared/path'
import { levels, nameOf, pathAt, treeBuilder } from './tree'

const id = fc.constantFrom('', '1', '2', '3')
const row = fc.record({ network: fc.constantFrom('norrfeed', 'kelpie'), campaign: id, adSet: id, ad: id })
const grow = (rows: readonly { network: string; campaign: string; adSet: string; ad: string }[]) => {
  const builder = treeBuilder()
  const leaves = rows.map(r => builder.leaf(r.network, r.campaign, r.adSet, r.ad))
  return { ...builder, leaves }
}

describe('the tree of ads', () => {
  it('has one leaf for an ad, whatever rows name it, and one for each part that is not broken down', () => {
    fc.assert(
      fc.property(fc.array(row), rows => {
        const { tree, leaves } = grow(rows)
        rows.forEach((r, i) => {
          const leaf = tree.leaves[leaves[i]!]!
          expect([leaf.network, leaf.ad]).toEqual([r.network, r.ad])
          if (!r.ad) expect([leaf.campaign, leaf.adSet]).toEqual([r.campaign, r.adSet])
        })
        const ads = tree.leaves.filter(l => l.ad).map(l => `${l.network} ${l.ad}`)
        expect(new Set(ads).size).toBe(ads.length)
        expect(tree.leaves.map(l => tree.networks[tree.networkOf[tree.leaves.indexOf(l)]!])).toEqual(
          tree.leaves.map(l => l.network),
        )
      }),
    )
  })
  it('gives the same leaf for the same row again', () => {
    fc.assert(
      fc.property(fc.array(row), rows => {
        const { tree, leaf, leaves } = grow(rows)
        const size = tree.leaves.length
        expect(rows.map(r => leaf(r.network, r.campaign, r.adSet, r.ad))).toEqual(leaves)
        expect(tree.leaves.length).toBe(size)
      }),
    )
  })
  it('has keys that tell apart what stands under different parents', () => {
    fc.assert(
      fc.property(fc.array(row), rows => {
        for (const level of levels) {
          const paths = new Map<string, string>()
          for (const leaf of grow(rows).tree.leaves) {
            const path = JSON.stringify(
              [leaf.network, leaf.campaign, leaf.adSet, leaf.ad].slice(0, 2 + levels.indexOf(level)),
            )
            const key = pathKey(...pathAt(leaf, level))
            expect(paths.get(key) ?? path).toBe(path)
            paths.set(key, path)
          }
        }
      }),
    )
  })
  it('knows an entity by its latest name, and by its ID where nobody named it', () => {
    const { tree, see } = grow([])
    see('norrfeed', 'ad', '1', 'Oak')
    see('norrfeed', 'ad', '1', 'Oak tall')
    see('norrfeed', 'ad', '1', 'Oak')
    see('norrfeed', 'ad', '1', null)
    expect([nameOf(tree, 'norrfeed', 'ad', '1'), nameOf(tree, 'norrfeed', 'ad', '2')]).toEqual(['Oak', '2'])
    expect([...tree.names.values()]).toEqual([['Oak tall', 'Oak']])
  })
})
