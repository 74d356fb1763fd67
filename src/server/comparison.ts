import type { Period } from '@/core/shared/days'
import { compare } from '@/core/weigh/compare'
import { reportComparison } from '@/core/weigh/compareReport'
import { comparisonSentence, plainHand } from '@/core/weigh/comparisonSentence'
import type { Evidence } from '@/core/weigh/evidence'
import type { Scope } from '@/core/weigh/scope'
import { gatherFolder } from './judging/judgeFolder'

export interface ComparedPeriods {
  first: Period
  second: Period
  network?: string | undefined
  campaign?: string | undefined
}

/** A network or campaign was asked for of which nothing is known. */
export class NothingOfThat extends Error {}

/**
 * What changed between two periods of a part of the account, with a sentence.
 *
 * @throws NothingOfThat
 */
export function comparePeriods(e: Evidence, { first, second, ...asked }: ComparedPeriods) {
  const { currency } = e.data.settings
  const comparison = compare(e, scopeOf(e, asked), first, second)
  return {
    ...reportComparison(comparison, currency),
    sentence: comparisonSentence(comparison, plainHand(currency)),
  }
}

/** The same for who asks from afar: what is not there in words, in place of what is thrown. */
export function compareView(e: Evidence, asked: ComparedPeriods) {
  try {
    return comparePeriods(e, asked)
  } catch (error) {
    if (error instanceof NothingOfThat) return { nothing: error.message }
    throw error
  }
}

/** Compares two periods of a folder of exchange files, with no database. */
export const compareFolder = async (dir: string, asked: ComparedPeriods, result?: string) =>
  comparePeriods((await gatherFolder(dir, result)).evidence, asked)

/** The part of the account that a network and a campaign name; a campaign alone where one network has it. */
function scopeOf(
  { data }: Evidence,
  { network, campaign }: Omit<ComparedPeriods, 'first' | 'second'>,
): Scope {
  const { leaves, networks } = data.tree
  if (network !== undefined && !networks.includes(network))
    throw new NothingOfThat(`There is no network "${network}". There are: ${networks.join(', ')}.`)
  if (campaign === undefined) return network === undefined ? {} : { network }
  const having = new Set(leaves.filter(leaf => leaf.campaign === campaign).map(leaf => leaf.network))
  const [only] = network === undefined ? having : [network]
  if (only === undefined || !having.has(only))
    throw new NothingOfThat(
      `There is no campaign "${campaign}"${network === undefined ? '' : ` of ${network}`}.`,
    )
  if (network === undefined && having.size > 1)
    throw new NothingOfThat(`${[...having].join(' and ')} have a campaign "${campaign}": name the network.`)
  return { network: only, campaign }
}
