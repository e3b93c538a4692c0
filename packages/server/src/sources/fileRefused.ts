import type { FaultList, FileFault } from '@culvert/core'

/** A file that does not come in: nothing of it was stored. */
export class FileRefused extends Error {
  override readonly name = 'FileRefused'
  readonly faults: readonly FileFault[]
  readonly count: number

  constructor(list: FaultList) {
    super(`refused with ${list.count} faults`)
    this.faults = list.shown
    this.count = list.count
  }
}

/** @throws FileRefused if there is any fault. */
export const refuseOn = (faults: FaultList): void => {
  if (faults.count > 0) throw new FileRefused(faults)
}
