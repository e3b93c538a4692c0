import { sumMinor } from '@culvert/core'
import type { Waiting } from '../course/stages.ts'
import type { Transaction } from '../database/connect.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadDisputes } from './disputes.ts'
import { findOneSided } from './loadTieOut.ts'

/** Orders and collections that are on one side only, and disputes to be decided. */
export const countWaiting = async (tx: Transaction): Promise<Waiting> => {
  const inBase = await loadInBase(tx)
  const items = await findOneSided(tx, await loadSetup(tx))
  const disputed = (await loadDisputes(tx)).filter(({ row }) => row.state === 'open' || row.state === 'changed')
  return {
    waiting: items.length + disputed.length,
    amount:
      sumMinor(items, item => inBase.convert(Math.abs(item.amount), item.line.currency)) +
      sumMinor(disputed, ({ row }) => inBase.convert(Math.abs(row.left), row.currency)),
    note: '',
  }
}
