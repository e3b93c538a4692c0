import { type BankLine, bankColumns, FaultList, readBankRow, readColumns } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { type Actor, asClient, type Database, oneRow } from '../database/connect.ts'
import { refuseOn } from '../sources/fileRefused.ts'
import { endPull, notePullProgress } from '../sources/pullLog.ts'
import { importBankLines } from './importBankLines.ts'

const pageSchema = z.object({
  lines: z.array(z.record(z.string(), z.union([z.string(), z.number()]).transform(String))),
  next: z.string().nullable(),
})

/** Where the bank is reached: named by the one who runs the server. */
const bankAddress = (): string | null => process.env.BANK_URL ?? null

/** Brings new lines of a bank account over from the bank. Lines that are there already are left alone. */
export const pullBank = async (
  database: Database,
  actor: Actor,
  job: { pullId: string; source: string },
): Promise<void> => {
  try {
    const address = bankAddress()
    if (address === null) throw new Error('no bank is connected; bring in a statement as a file')
    const account = await asClient(database, actor, tx =>
      oneRow<{ code: string; bank_number: string | null; latest: string | null }>(
        tx,
        sql`
      SELECT a.code, a.bank_number, (SELECT max(date)::text FROM bank_line b WHERE b.bank_account = a.code) AS latest
      FROM account a WHERE a.client_id = current_client() AND a.code = ${job.source}`,
      ),
    )
    const lines = await fetchLines(address, account, done =>
      notePullProgress(database, actor, { pullId: job.pullId, done, total: null }),
    )
    await asClient(database, actor, async tx => {
      const outcome = await importBankLines(tx, lines, { pullId: job.pullId, faults: new FaultList() })
      await endPull(tx, job.pullId, {
        state: 'done',
        message: '',
        counts: { added: outcome.added, revised: 0, same: outcome.same },
      })
    })
  } catch (error) {
    await asClient(database, actor, tx =>
      endPull(tx, job.pullId, { state: 'failed', message: error instanceof Error ? error.message : 'failed' }),
    )
  }
}

const fetchLines = async (
  address: string,
  account: { code: string; bank_number: string | null; latest: string | null },
  note: (done: number) => Promise<boolean>,
): Promise<BankLine[]> => {
  const lines: BankLine[] = []
  const faults = new FaultList()
  let next: string | null = ''
  while (next !== null) {
    const from = account.latest === null ? '' : `&from=${account.latest}`
    const response: Response = await fetch(
      `${address}/accounts/${encodeURIComponent(account.bank_number ?? account.code)}/lines?after=${encodeURIComponent(next)}${from}`,
      { signal: AbortSignal.timeout(30_000) },
    )
    if (!response.ok) throw new Error(`the bank answered ${response.status}`)
    const page: z.infer<typeof pageSchema> = pageSchema.parse(await response.json())
    const columns = readColumns([...bankColumns.known], bankColumns, faults)
    page.lines.forEach((fields, index) => {
      const line = readBankRow(
        bankColumns.known.map(name => fields[name] ?? ''),
        { columns, row: index + 1, faults },
      )
      if (line) lines.push({ ...line, bankAccount: account.code })
    })
    refuseOn(faults)
    await note(lines.length)
    next = page.next
  }
  return lines
}
