import type { ImportHold, ImportPage } from '@culvert/contract'
import { countText, dateText } from '../ui/formats.ts'

const words: Record<ImportPage['sort'], string> = {
  activity: 'line',
  settlements: 'settlement',
  balances: 'balance',
  statement: 'bank line',
}

/** What goes, as the button says it. */
export const takeBackText = ({ sort, rows }: ImportPage): string => `Take back ${countText(rows, words[sort])}`

/** What taking a file back comes to, before it is done. */
export const goesText = (page: ImportPage): readonly string[] => {
  const { sort, rows, restored, from, to, settlements } = page
  const days =
    from === null || to === null
      ? ''
      : from === to
        ? ` of ${dateText(from)}`
        : ` of ${dateText(from)} to ${dateText(to)}`
  return [
    rows === 0
      ? 'It changed nothing that still stands: only the log says that it was taken back.'
      : `${countText(rows, words[sort])}${days} ${rows === 1 ? 'goes' : 'go'}.`,
    ...(restored > 0
      ? [
          `${countText(restored, words[sort])} that it had changed ${restored === 1 ? 'is' : 'are'} again what ${restored === 1 ? 'it was' : 'they were'}.`,
        ]
      : []),
    ...(sort === 'activity' && settlements > 0
      ? [
          `${countText(settlements, 'settlement or day', 'settlements and days')} ${settlements === 1 ? 'is' : 'are'} composed anew; those that keep nothing go.`,
        ]
      : []),
    ...(sort === 'statement' ? ['The account is known only as far as the statements that are left reach.'] : []),
    'The same file can be brought in again.',
  ]
}

/** Why it cannot be taken back, and what to do first. */
export const holdText: Record<ImportHold, readonly [what: string, way: string]> = {
  posted: ['Posted with it', 'Take those settlements back first.'],
  tied_posted: ['Posted, and tied to payments of it', 'Take those settlements back first.'],
  taxes_posted: ['Posted, and taxed by it', 'Take those settlements back first.'],
  changed_since: [
    'Came again since, with something else',
    'Take the later file back first. What a pull changed stays.',
  ],
  decided: ['Decided by somebody', 'Take the decision back on Payments first.'],
  bank_decided: [
    'Paired, coded or set aside, now or before',
    'What was decided stays in the log, with its bank lines.',
  ],
  overlapped: [
    'Told again later, and left out there as known',
    'Take the later file back first. What a pull told again stays.',
  ],
  noted: ['Noted or asked about', 'What was said stays with its line.'],
}
