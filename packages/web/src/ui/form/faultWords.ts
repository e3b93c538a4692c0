import { z } from 'zod'

/** What is wrong with a field, as a person is told; what a schema says itself stays as it says it. */
export const sayFaultsPlainly = (): void => {
  z.config({
    customError: issue => {
      switch (issue.code) {
        case 'invalid_type':
          return 'Fill this in.'
        case 'too_small':
          return issue.origin === 'string' ? 'Fill this in.' : `At least ${String(issue.minimum)}.`
        case 'too_big':
          return issue.origin === 'string'
            ? `At most ${String(issue.maximum)} letters.`
            : `At most ${String(issue.maximum)}.`
        case 'invalid_value':
          return 'Choose one of these.'
        default:
          return undefined
      }
    },
  })
}
