import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { type Group, loadMembers, refusedMembers, storeDecisions } from './storePairings.ts'

/** Leaves bank lines and transfers out on purpose, each for itself, with a reason; taking these pairings apart takes them up again. @throws Refused */
export const setAsideItems = (
  database: Database,
  actor: Actor,
  wanted: Group & { account: string; reason: string },
): Promise<string[]> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const { fiscalStart } = await loadSetup(tx)
      const groups: Group[] = [
        ...wanted.transfers.map(id => ({ transfers: [id], bankLines: [] })),
        ...wanted.bankLines.map(id => ({ transfers: [], bankLines: [id] })),
      ]
      const members = await loadMembers(tx, { account: wanted.account, groups }, false)
      if (groups.length === 0) throw new Refused('nothing_selected')
      for (const group of groups) {
        const refused = refusedMembers(group, members, new Set())
        if (refused) throw new Refused('not_set_aside', { reason: refused })
      }
      const pairings = await storeDecisions(
        tx,
        {
          account: wanted.account,
          fiscalStart,
          decisions: groups.map(group => ({
            group,
            sort: 'set_aside',
            sureness: 'by_hand',
            evidence: null,
            difference: 0,
            note: wanted.reason,
            entry: null,
          })),
        },
        touched =>
          recordAct(tx, actor, { sort: 'set_aside_bank', note: `${groups.length}: ${wanted.reason}`, touched }),
      )
      await markStages(tx, ['bank', 'clearing'])
      return pairings
    }),
  )
