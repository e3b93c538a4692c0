import { bankNumber } from './bank.ts'
import { camtFile } from './files.ts'
import type { Demo } from './kilnLane.ts'
import { opening } from './kilnLaneBooks.ts'

/** The bank's first statement begins with what the books were opened with. */
export const firstStatement = {
  account: bankNumber,
  opening: opening.find(one => one.account === '1000')?.amount ?? 0,
  number: 21,
}
export const loadedBalance = (demo: Demo): number =>
  demo.bankLoaded.reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), firstStatement.opening)
export const juneStatement = (demo: Demo): string =>
  camtFile(demo.bankStatement, {
    ...firstStatement,
    opening: loadedBalance(demo),
    number: firstStatement.number + new Set(demo.bankLoaded.map(row => row.date?.slice(0, 7))).size,
  })
