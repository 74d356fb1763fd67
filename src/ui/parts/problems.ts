import type { z } from 'zod'

/**
 * What is wrong with a field and what to do, where its schema says nothing of its own.
 *
 * @returns undefined where the schema's own words are to stand
 */
export const problemOf: z.core.$ZodErrorMap = issue => {
  switch (issue.code) {
    case 'too_small':
      if (issue.origin === 'string')
        return Number(issue.minimum) <= 1 ? 'Fill this in.' : `Write at least ${issue.minimum} characters.`
      return issue.origin === 'array' ? `Choose at least ${issue.minimum}.` : `${issue.minimum} is the least.`
    case 'too_big':
      return issue.origin === 'string'
        ? `Write at most ${issue.maximum} characters.`
        : `${issue.maximum} is the most.`
    case 'invalid_type':
      return issue.input === undefined || issue.input === null
        ? 'Fill this in.'
        : 'This is not what belongs here.'
    case 'invalid_value':
      return 'Choose one of those offered.'
    case 'invalid_format':
      return issue.format === 'url'
        ? 'Write a whole address, with https:// before it.'
        : 'This is not written as it should be.'
    default:
      return undefined
  }
}
