import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { sharedDatabase } from '@/data/connect'
import { judgeableResults } from '@/server/counting'
import { Refused } from './answering'

/**
 * The result that a request asks to judge: the shop's orders where it names none.
 *
 * @throws Refused where there is none of that ID
 */
export async function askedResult(query: URLSearchParams, workspace: string): Promise<string> {
  const result = query.get('result') || JUDGED_RESULT
  const known = (await judgeableResults(sharedDatabase(), workspace, result)).map(({ id }) => id)
  if (!known.includes(result))
    throw new Refused(400, `There is no result "${result}". There are: ${known.join(', ')}.`)
  return result
}
