import { sumMinor } from '@culvert/core'
import type { Waiting } from '../course/stages.ts'
import type { Transaction } from '../database/connect.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadDisputes } from './disputes.ts'
import { loadOneSided } from './oneSidedPayments.ts'

/** Payments that are on one side only and that nobody has decided, or what was decided and is not so any more; and disputes to be decided. */
export const countWaiting = async (tx: Transaction): Promise<Waiting> => {
  const inBase = await loadInBase(tx)
  const { items, decided } = await loadOneSided(tx, await loadSetup(tx))
  const gone = decided.filter(one => !one.holds)
  const disputed = (await loadDisputes(tx)).filter(({ row }) => row.state === 'open' || row.state === 'changed')
  return {
    waiting: items.length + gone.length + disputed.length,
    amount:
      sumMinor(items, item => inBase.convert(Math.abs(item.amount), item.line.currency)) +
      sumMinor(gone, ({ standing }) => inBase.convert(Math.abs(standing.amount), standing.line.currency)) +
      sumMinor(disputed, ({ row }) => inBase.convert(Math.abs(row.left), row.currency)),
    note: '',
  }
}
