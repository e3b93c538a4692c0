import type { StatementOutcome, UploadOutcome } from '@culvert/contract'
import { countText, rangeText } from '../ui/formats.ts'

/** What a statement brought. */
export const statementText = (name: string, outcome: StatementOutcome): string =>
  `${name}: ${countText(outcome.added, 'bank line')} new, ${outcome.same} known already${outcome.from ? `, ${rangeText(outcome.from, outcome.to)}` : ''}.`

/** What a file of a source brought. */
export const uploadedText = (name: string, outcome: UploadOutcome): string =>
  `${name}: ${countText(outcome.added, 'row')} new, ${outcome.revised} corrected, ${outcome.same} known already.${
    outcome.aside ? ` ${countText(outcome.aside, 'row')} set aside.` : ''
  }${
    outcome.unknownColumns.length > 0 ? ` Columns kept without being used: ${outcome.unknownColumns.join(', ')}.` : ''
  }`
