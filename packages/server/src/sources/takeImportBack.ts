import { type ImportPage, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { restoreBalances } from '../activity/importBalances.ts'
import { restoreHeads } from '../activity/importHeads.ts'
import { retractPull } from '../activity/retractPull.ts'
import { holdSettlements, keyRows, type SettlementKey } from '../activity/settlementKey.ts'
import { recordAct } from '../acts/recordAct.ts'
import { follow } from '../composing/follow.ts'
import { settlementsTaxedBy } from '../composing/movedTax.ts'
import { markPulledTo, settleTouched } from '../composing/storeActivity.ts'
import { tie } from '../composing/tieOut.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { markTakenBack, refuseHeld } from '../jobs/importedFile.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadImport } from './importPage.ts'

/**
 * Takes back what a file brought in to a source: its lines stand no more, what it changed stands again as it was, settlements that keep nothing go. The same file
 * can be brought in again. @throws Refused where anything rests on it
 */
export const takeImportBack = async (
  database: Database,
  actor: Actor,
  of: { readonly source: string; readonly jobId: string },
): Promise<ImportPage> => {
  const page = await retrying(() => asClient(database, actor, tx => takeBack(tx, actor, of)))
  await follow(database, actor)
  return page
}

const takeBack = async (
  tx: Transaction,
  actor: Actor,
  { source, jobId }: { readonly source: string; readonly jobId: string },
): Promise<ImportPage> => {
  // All of them, in one order: what rests on a tender may be at another source, and nothing of either is posted meanwhile.
  const sources = [...(await loadSetup(tx)).setup.sources.keys()]
  await holdSources(tx, [...new Set([...sources, source])], 'store')
  const { pullNo, ...page } = await loadImport(tx, { source, jobId })
  refuseHeld(page)
  await markTakenBack(tx, actor, jobId)
  if (page.sort === 'activity' && pullNo !== null) {
    const hanging = async (pull: number) => settlementsTaxedBy(tx, await loadSetup(tx), { source, pullNo: pull })
    const retracted = await retractPull(tx, source, pullNo)
    // In the same act: nobody posts a collection as tied to a tender that is not there any more.
    await tie(tx)
    await settleTouched(tx, [...retracted.touched, ...(await hanging(retracted.pullNo))])
    await removeEmpty(tx, retracted.touched)
  }
  if (page.sort === 'settlements') {
    const touched = await restoreHeads(tx, source, jobId)
    await settleTouched(tx, touched)
    await removeEmpty(tx, touched)
  }
  if (page.sort === 'balances') await restoreBalances(tx, source, jobId)
  await markPulledTo(tx, source, null)
  await recordAct(tx, actor, {
    sort: 'take_import_back',
    note: page.name,
    touched: [
      { subject: 'source', key: subjectKey(source), before: { file: page.name, [page.sort]: page.rows }, after: null },
    ],
  })
  await markStages(tx, ['sources', 'mapping', 'settlements', 'payments', 'clearing', 'close'])
  return page
}

/** Settlements that were made for lines or heads which stand no more, and were never posted. */
const removeEmpty = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<void> => {
  await holdSettlements(tx, keys)
  await tx.execute(sql`
    DELETE FROM settlement s USING ${keyRows(keys)} WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency
      AND NOT s.has_head AND NOT EXISTS (SELECT FROM posting p WHERE p.client_id = s.client_id AND p.source = s.source AND p.key = s.key AND p.currency = s.currency)
      AND NOT EXISTS (SELECT FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key
        AND l.currency = s.currency AND l.stands)`)
}
