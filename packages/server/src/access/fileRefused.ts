import { FaultList, type FileFault } from '@culvert/core'
import { SumOutOfRange } from '../database/connect.ts'
import { sqlState } from '../database/sqlState.ts'

/** A file that does not come in: nothing of it was stored. */
export class FileRefused extends Error {
  override readonly name = 'FileRefused'
  readonly faults: readonly FileFault[]
  readonly count: number

  constructor(list: FaultList) {
    super(`refused with ${list.count} ${list.count === 1 ? 'fault' : 'faults'}`)
    this.faults = list.kept
    this.count = list.count
  }
}

/** Numeric value out of range, as PostgreSQL says when a sum does not fit. */
const outOfRange = '22003'

/** The refusal that stands for what storing ran into, if it was the file: amounts too large together with those stored already. */
export const refusalOf = (error: unknown): FileRefused | null => {
  if (!(error instanceof SumOutOfRange) && sqlState(error) !== outOfRange) return null
  const faults = new FaultList()
  faults.add({ row: 1, column: 'amount', value: '', code: 'sum_out_of_range' })
  return new FileRefused(faults)
}

/** @throws FileRefused if there is any fault. */
export const refuseOn = (faults: FaultList): void => {
  if (faults.count > 0) throw new FileRefused(faults)
}
