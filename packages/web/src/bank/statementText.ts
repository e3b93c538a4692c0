import type { StatementOutcome } from '@culvert/contract'
import { countText, rangeText } from '../ui/formats.ts'

/** What a statement brought. */
export const statementText = (name: string, outcome: StatementOutcome): string =>
  `${name}: ${countText(outcome.added, 'bank line')} new, ${outcome.same} known already${outcome.from ? `, ${rangeText(outcome.from, outcome.to)}` : ''}.`
