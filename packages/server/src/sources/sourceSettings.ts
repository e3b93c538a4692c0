import type { SourceSettings, savedSource } from '@culvert/contract'
import { serviceSorts, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { found, Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { saveMap } from '../composing/saveMap.ts'
import { markStages } from '../course/markStages.ts'
import { stages } from '../course/stages.ts'
import { type Actor, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { is } from '../database/rows.ts'
import { sqlState } from '../database/sqlState.ts'
import { holdBanks } from '../ledger/holdBanks.ts'
import { currentVersion } from '../setup/loadMap.ts'

type Saved = z.output<typeof savedSource>

const loadFacts = async (tx: Transaction, source: string): Promise<Saved | null> => {
  const [row] = await rowsOf(
    tx,
    {
      ...{ name: is.text, service: is.maybe(is.oneOf(...serviceSorts)), bankTexts: is.list(is.text) },
      contact: is.maybe(is.text),
    },
    sql`SELECT name, service, bank_texts AS "bankTexts", contact FROM source WHERE client_id = current_client() AND source = ${source}`,
  )
  if (!row) return null
  const clearing = await rowsOf(
    tx,
    { currency: is.text, account: is.text },
    sql`SELECT currency, account FROM source_clearing WHERE client_id = current_client() AND source = ${source} ORDER BY currency`,
  )
  const banks = await rowsOf(
    tx,
    { direction: is.oneOf('into', 'from'), currency: is.text, region: is.text, account: is.text },
    sql`SELECT direction, currency, region, account FROM source_bank WHERE client_id = current_client() AND source = ${source}
      ORDER BY direction, currency, region`,
  )
  return { ...row, clearing, banks }
}

const postedCurrencies = async (tx: Transaction, source: string): Promise<string[]> =>
  (
    await rowsOf(
      tx,
      { currency: is.text },
      sql`SELECT DISTINCT currency FROM posting WHERE client_id = current_client() AND source = ${source} ORDER BY currency`,
    )
  ).map(row => row.currency)

/** What a source is, and what rests on it. @throws Refused where there is none */
export const loadSourceSettings = async (tx: Transaction, source: string): Promise<SourceSettings> => ({
  version: await currentVersion(tx),
  source: found(await loadFacts(tx, source), 'source'),
  posted: await postedCurrencies(tx, source),
  ...(await oneRow(
    tx,
    { lines: is.whole, entries: is.whole },
    sql`SELECT (SELECT coalesce(sum(lines), 0)::int FROM activity_sum WHERE client_id = current_client() AND source = ${source}) AS lines,
      (SELECT count(*)::int FROM entry WHERE client_id = current_client() AND source = ${source}) AS entries`,
  )),
})

const partOf = (source: string) => async (tx: Transaction) => {
  const facts = await loadFacts(tx, source)
  return facts === null ? [] : touchables('source', [facts], () => subjectKey(source))
}

/** Changes what a source is, as a version of the setup. @throws Refused where settlements are posted through an account that would change; Conflict */
export const saveSource = async (
  database: Database,
  actor: Actor,
  save: { readonly source: string; readonly wanted: Saved; readonly version: number },
): Promise<number> => {
  const { source, wanted } = save
  const { version } = await saveMap(database, actor, {
    act: 'save_source',
    note: wanted.name,
    madeFrom: save.version,
    part: partOf(source),
    change: async tx => {
      const before = found(await loadFacts(tx, source), 'source')
      await holdSources(tx, [source], 'store')
      const posted = await postedCurrencies(tx, source)
      const accountOf = ({ clearing }: Saved, currency: string) =>
        clearing.find(one => one.currency === currency)?.account
      for (const currency of posted)
        if (accountOf(before, currency) !== accountOf(wanted, currency))
          throw new Refused('clearing_posted', { currency })
      // What it pays into already stays as it was said.
      const paid = new Set(before.banks.map(bank => bank.account))
      await holdBanks(
        tx,
        wanted.banks.map(bank => bank.account).filter(account => !paid.has(account)),
      )
      await refuseUnknownContact(tx, wanted.contact)
      await writeFacts(tx, source, wanted)
      await markStages(tx, stages)
    },
  })
  return version
}

// Held, so that it is not removed meanwhile.
const refuseUnknownContact = async (tx: Transaction, contact: string | null): Promise<void> => {
  if (contact === null) return
  const [there] = await rowsOf(
    tx,
    {},
    sql`SELECT FROM contact WHERE client_id = current_client() AND code = ${contact} FOR KEY SHARE`,
  )
  if (!there) throw new Refused('contact_unknown', { contact })
}

const foreignKeyViolation = '23503'

const writeFacts = async (
  tx: Transaction,
  source: string,
  { name, service, bankTexts, contact, clearing, banks }: Saved,
): Promise<void> => {
  // Whoever composed by the old ones and has not posted yet finds the source moved on, and composes anew.
  await tx.execute(sql`UPDATE source SET name = ${name}, service = ${service}, bank_texts = ${JSON.stringify(bankTexts)}::jsonb, contact = ${contact}, last_pull = last_pull + 1
    WHERE client_id = current_client() AND source = ${source}`)
  await tx.execute(sql`DELETE FROM source_clearing WHERE client_id = current_client() AND source = ${source}`)
  await tx.execute(sql`DELETE FROM source_bank WHERE client_id = current_client() AND source = ${source}`)
  try {
    for (const { currency, account } of clearing)
      await tx.execute(sql`INSERT INTO source_clearing (client_id, source, currency, account)
        VALUES (current_client(), ${source}, ${currency}, ${account})`)
    for (const bank of banks)
      await tx.execute(sql`INSERT INTO source_bank (client_id, source, direction, currency, region, account)
        VALUES (current_client(), ${source}, ${bank.direction}, ${bank.currency}, ${bank.region}, ${bank.account})`)
  } catch (error) {
    if (sqlState(error) === foreignKeyViolation)
      throw new Refused('account_unusable', { account: [...clearing, ...banks].map(one => one.account).join(', ') })
    throw error
  }
}

/** Object in use, as the database says where entries stand. */
const inUse = '55006'

/** Removes a source that was added by mistake, with all that it brought and its routes. @throws Refused where anything of it was posted, or is tied to another's lines */
export const removeSource = async (database: Database, actor: Actor, source: string): Promise<void> => {
  try {
    await saveMap(database, actor, {
      act: 'remove_source',
      note: source,
      madeFrom: undefined,
      part: partOf(source),
      change: async tx => {
        found(await loadFacts(tx, source), 'source')
        await holdSources(tx, [source], 'store')
        const [tied] = await rowsOf(
          tx,
          {},
          sql`SELECT FROM tender_match WHERE client_id = current_client() AND ${source} IN (gateway, channel) LIMIT 1`,
        )
        if (tied) throw new Refused('source_tied')
        await tx.execute(sql`SELECT remove_unposted_source(${source})`)
        await markStages(tx, stages)
      },
    })
  } catch (error) {
    if (sqlState(error) === inUse) throw new Refused('source_posted')
    throw error
  }
}
