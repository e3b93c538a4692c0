import { sumMinor } from '@culvert/core'
import type { Waiting } from '../course/stages.ts'
import type { Transaction } from '../database/connect.ts'
import { loadInBase } from '../setup/inBase.ts'
import { unclosedNow } from './loadProof.ts'

/** Accounts that are open, with what is unexplained; where none is, those that are explained, with what is to be mended. The note says how many are open. */
export const countWaiting = async (tx: Transaction): Promise<Waiting> => {
  const inBase = await loadInBase(tx)
  const unclosed = await unclosedNow(tx)
  const open = unclosed.filter(one => one.outcome === 'open')
  return {
    waiting: unclosed.length,
    amount:
      open.length > 0
        ? sumMinor(open, one => inBase.convert(Math.abs(one.unexplained), one.currency))
        : sumMinor(unclosed, one => inBase.convert(one.toMend, one.currency)),
    note: String(open.length),
  }
}
