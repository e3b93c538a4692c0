import { composeCoded } from '@culvert/core'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadMembers, type OpenLineRow, refusedMembers, storeDecisions } from './storePairings.ts'

/** Books a bank line that is no payout straight to an account, tax taken out by a code; hands over the pairing to take it apart by. @throws Refused */
export const codeLine = (
  database: Database,
  actor: Actor,
  wanted: { account: string; bankLine: string; to: string; taxCode: string | null; memo: string },
): Promise<string[]> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const client = await loadSetup(tx)
      const group = { transfers: [], bankLines: [wanted.bankLine] }
      const members = await loadMembers(tx, { account: wanted.account, groups: [group] }, false)
      const refused = refusedMembers(group, members, new Set())
      if (refused) throw new Refused('line_not_open')
      const line = members.lines.get(wanted.bankLine) as OpenLineRow
      if (wanted.to === wanted.account) throw new Refused('own_account')
      const { entries, blocks } = composeCoded(
        {
          bankAccount: wanted.account,
          currency: line.currency,
          date: line.date,
          amount: line.amount,
          account: wanted.to,
          taxCode: wanted.taxCode,
        },
        client.setup,
      )
      const [block] = blocks
      if (block) throw new Refused('line_not_bookable', { reason: block.reason })
      const [entry] = entries
      if (!entry) throw new Refused('line_of_nothing')
      const note = wanted.memo || line.description
      const pairings = await storeDecisions(
        tx,
        {
          account: wanted.account,
          fiscalStart: client.fiscalStart,
          decisions: [
            {
              group,
              sort: 'coded',
              sureness: 'by_hand',
              evidence: null,
              difference: 0,
              note: wanted.memo,
              entry: { date: entry.date, currency: entry.currency, memo: note, lines: entry.lines },
            },
          ],
        },
        touched => recordAct(tx, actor, { sort: 'code_line', note: `${wanted.bankLine} to ${wanted.to}`, touched }),
      )
      await markStages(tx, ['bank', 'clearing', 'books'])
      return pairings
    }),
  )
