import type { OpeningPage, openingBody } from '@culvert/contract'
import { mirrorLines } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSetup } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { holdMonths } from '../ledger/periods.ts'
import { linesOfEntry, storedEntryLine } from '../ledger/storedEntryLine.ts'
import { countByFiscalYear, type NewEntry, numberEntries, takeNumbers, writeEntries } from '../ledger/writeEntries.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'

// What the accounts held as the books began. One such entry stands at a time; its mirror is an opening entry too, so that whoever reads opening
// balances adds both.

interface Standing {
  readonly fiscalYear: number
  readonly number: number
  readonly date: string
  readonly currency: string
  readonly by: string
  readonly lines: NewEntry['lines']
}

const loadStanding = async (tx: Transaction): Promise<Standing | null> => {
  const [row] = await rowsOf(
    tx,
    {
      fiscalYear: is.whole,
      number: is.whole,
      date: is.date,
      currency: is.text,
      by: is.text,
      lines: is.list(storedEntryLine),
    },
    sql`SELECT e.fiscal_year AS "fiscalYear", e.number, e.date::text, e.currency, u.name AS by,
      ${linesOfEntry} AS lines
    FROM entry e JOIN act a ON a.client_id = e.client_id AND a.act_id = e.act_id JOIN app_user u ON u.user_id = a."by"
    WHERE e.client_id = current_client() AND ${isDocument('opens')} AND e.reverses_number IS NULL
      AND NOT EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year AND r.reverses_number = e.number)`,
  )
  return row ?? null
}

export const loadOpening = async (tx: Transaction): Promise<OpeningPage> => {
  const client = await loadSetup(tx)
  const standing = await loadStanding(tx)
  const { before } = await oneRow(
    tx,
    { before: is.maybe(is.text) },
    sql`SELECT (least((SELECT min(e.date) FROM entry e WHERE e.client_id = current_client() AND NOT ${isDocument('opens')}),
      (SELECT min(greatest(s.first_date, (f.options->>'bookedFrom')::date)) FROM settlement s JOIN source f USING (client_id, source)
        WHERE s.client_id = current_client() AND s.state <> 'elsewhere')) - 1)::text AS before`,
  )
  return {
    base: client.base,
    before,
    standing: standing && {
      number: `${standing.fiscalYear}-${standing.number}`,
      date: standing.date,
      by: standing.by,
      lines: standing.lines.map(({ account, amount }) => ({ account, amount })),
    },
    accounts: [...client.setup.accounts.values()]
      .filter(account => !account.archived && account.currency === client.base)
      .map(({ code, name, type }) => ({ code, name, type }))
      .sort((left, right) => (left.code < right.code ? -1 : 1)),
  }
}

const refuseWrong = (wanted: z.output<typeof openingBody>, { setup, base }: ClientSetup): void => {
  const seen = new Set<string>()
  for (const { account: code, amount } of wanted.lines) {
    const account = setup.accounts.get(code)
    if (!account || account.archived) throw new Refused('account_unusable', { account: code })
    if (account.currency !== base)
      throw new Refused('held_in_another', { account: code, currency: account.currency, base })
    if (seen.has(code)) throw new Refused('named_twice', { account: code })
    if (amount === 0) throw new Refused('nothing_on_it', { account: code })
    seen.add(code)
  }
  const difference = wanted.lines.reduce((sum, line) => sum + BigInt(line.amount), 0n)
  if (difference !== 0n) throw new Refused('sides_differ', { difference: Number(difference), base })
}

/** Posts what the accounts held at the end of a day. @throws Refused where it does not balance, something stands already, or the month is locked */
export const postOpening = (database: Database, actor: Actor, wanted: z.output<typeof openingBody>): Promise<string> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      // Two who post at once, into whatever fiscal years, come one after the other.
      await holdSetup(tx)
      const client = await loadSetup(tx)
      refuseWrong(wanted, client)
      const standing = await loadStanding(tx)
      if (standing)
        throw new Refused('opening_stands', {
          date: standing.date,
          entry: `${standing.fiscalYear}-${standing.number}`,
        })
      const entry: NewEntry = {
        ...plain,
        date: wanted.date,
        currency: client.base,
        memo: 'opening balances',
        reverses: null,
        lines: wanted.lines.map(({ account, amount }) => ({
          account,
          amount,
          baseAmount: amount,
          taxCode: '',
          segments: '',
          buckets: [],
          routes: [],
        })),
      }
      const firsts = await takeNumbers(tx, countByFiscalYear([entry], client.fiscalStart))
      await refuseLocked(tx, wanted.date)
      const [numbered] = numberEntries([entry], firsts, client.fiscalStart)
      if (!numbered) throw new Error('an entry was made and none was numbered')
      const actId = await recordAct(tx, actor, {
        sort: 'post_opening',
        note: wanted.date,
        touched: [
          {
            subject: 'entry',
            key: `${numbered.fiscalYear}-${numbered.number}`,
            after: { date: wanted.date, accounts: wanted.lines.length },
          },
        ],
      })
      await writeEntries(tx, [numbered], actId)
      await markStages(tx, ['clearing', 'books', 'close'])
      return `${numbered.fiscalYear}-${numbered.number}`
    }),
  )

/** Takes the opening balances back, on their own day. @throws Refused where none stand, or their month is locked */
export const undoOpening = (database: Database, actor: Actor): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await holdSetup(tx)
      const client = await loadSetup(tx)
      const standing = await loadStanding(tx)
      if (!standing) throw new Refused('no_opening')
      const firsts = await takeNumbers(tx, countByFiscalYear([standing], client.fiscalStart))
      await refuseLocked(tx, standing.date)
      const mirror: NewEntry = {
        ...plain,
        date: standing.date,
        currency: standing.currency,
        memo: 'opening balances, taken back',
        reverses: { fiscalYear: standing.fiscalYear, number: standing.number },
        lines: mirrorLines(standing.lines),
      }
      const actId = await recordAct(tx, actor, {
        sort: 'undo_opening',
        note: standing.date,
        touched: [
          { subject: 'entry', key: `${standing.fiscalYear}-${standing.number}`, after: { reversed: standing.date } },
        ],
      })
      await writeEntries(tx, numberEntries([mirror], firsts, client.fiscalStart), actId)
      await markStages(tx, ['clearing', 'books', 'close'])
    }),
  )

const plain = { document: 'opening', source: null, key: null, generation: null, payoutLine: null } as const

const refuseLocked = async (tx: Transaction, date: string): Promise<void> => {
  if ((await holdMonths(tx, [date])).size > 0) throw new Refused('opening_locked', { date })
}
