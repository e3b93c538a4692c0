import type { StageName, StageSummary } from '@culvert/contract'
import { monthText } from './formats.ts'

export const stageLabels: Record<StageName, string> = {
  sources: 'Sources',
  mapping: 'Mapping',
  settlements: 'Settlements',
  payments: 'Payments',
  clearing: 'Clearing',
  bank: 'Bank',
  books: 'Books',
  close: 'Close',
}

export interface StageSaying {
  readonly text: string
  readonly tone: '' | 'warn' | 'fail'
  readonly money: boolean
}

const nothing: StageSaying = { text: 'nothing yet', tone: '', money: false }

/** What the course says under a stage, and how loudly. Of a client with nothing in it no stage is said to be done. */
export const stageSaying = (summary: StageSummary, course: readonly StageSummary[]): StageSaying => {
  const { stage, waiting, note } = summary
  const find = (name: StageName) => course.find(one => one.stage === name)
  const anyBooked = Number(find('books')?.note ?? 0) > 0
  const anySettlement = anyBooked || (find('settlements')?.waiting ?? 0) > 0
  if (waiting === 0 && !anySettlement)
    return stage === 'sources' && Number(note) > 0 ? { text: `${note} connected`, tone: '', money: false } : nothing
  // What is not posted can neither be proved nor paired nor locked.
  if (waiting === 0 && !anyBooked && (stage === 'clearing' || stage === 'bank' || stage === 'close')) return nothing
  const saying = sayingOf(summary)
  // Two that cancel are to be mended all the same, and come to nothing.
  return { ...saying, money: saying.money && summary.amount !== 0 }
}

const sayingOf = ({ stage, waiting, note }: StageSummary): StageSaying => {
  switch (stage) {
    case 'sources':
      return waiting > 0
        ? { text: `${waiting} failed`, tone: 'fail', money: false }
        : { text: `${note} in step`, tone: '', money: false }
    case 'mapping':
      return waiting > 0
        ? { text: `${waiting} ${waiting === 1 ? 'kind' : 'kinds'} unmapped`, tone: 'warn', money: true }
        : { text: 'all mapped', tone: '', money: false }
    case 'settlements': {
      const blocked = Number(note)
      if (waiting === 0) return { text: 'all posted', tone: '', money: false }
      return blocked > 0
        ? {
            text: `${blocked} blocked${waiting > blocked ? `, ${waiting - blocked} to post` : ''}`,
            tone: 'warn',
            money: true,
          }
        : { text: `${waiting} to post`, tone: 'warn', money: true }
    }
    case 'payments':
      return waiting > 0
        ? { text: `${waiting} open`, tone: 'warn', money: true }
        : { text: 'none open', tone: '', money: false }
    case 'clearing':
      if (waiting === 0) return { text: 'proved', tone: '', money: false }
      return Number(note) > 0
        ? { text: 'unexplained', tone: 'fail', money: true }
        : { text: 'to mend', tone: 'warn', money: true }
    case 'bank':
      return waiting > 0
        ? { text: `${waiting} to pair`, tone: 'warn', money: true }
        : { text: 'all paired', tone: '', money: false }
    case 'books':
      return { text: `${note} entries`, tone: '', money: false }
    case 'close':
      return waiting > 0
        ? { text: `${monthText(note)} next`, tone: '', money: false }
        : { text: 'all locked', tone: '', money: false }
  }
}
