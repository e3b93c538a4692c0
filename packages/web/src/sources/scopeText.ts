import type { PersonalScope } from '@culvert/contract'

/** How much a source may tell of customers, in words. */
export const scopeText: Record<PersonalScope, string> = {
  all: 'all that it reports',
  name: 'the name alone',
  none: 'nothing',
}
