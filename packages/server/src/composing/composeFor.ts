import { type Composed, composeSettlement } from '@culvert/core'
import type { SettlementKey } from '../activity/settlementKey.ts'
import type { Transaction } from '../database/connect.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { loadActivity } from './loadActivity.ts'

/** Composes one settlement as it is now; null if there is none. */
export const composeFor = async (
  tx: Transaction,
  client: ClientSetup,
  key: SettlementKey,
): Promise<Composed | null> => {
  const [loaded] = await loadActivity(tx, client, { keys: [key] })
  return loaded ? composeSettlement(loaded.activity, client.setup) : null
}
