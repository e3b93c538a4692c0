import { type newSource, subjectKey } from '@culvert/contract'
import { isCurrency } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { refuseUnasked } from '../access/refuseUnasked.ts'
import { sealGrant } from '../activity/grants.ts'
import { factsOf } from '../acts/changes.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'

/** Adds a source to a client, with its clearing accounts and the bank accounts it pays into and draws from. @throws Refused */
export const createSource = (database: Database, actor: Actor, source: z.output<typeof newSource>): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const [there] = await rowsOf(
        tx,
        {},
        sql`SELECT FROM source WHERE client_id = current_client() AND source = ${source.source}`,
      )
      if (there) throw new Refused('source_taken', { source: source.source })
      await makeAccounts(tx, source.make)
      if (source.address !== null) refuseUnasked(source.address)
      const sealed =
        source.credentials &&
        sealGrant(source.credentials, { of: 'source', clientId: actor.clientId, key: source.source })
      await tx.execute(sql`INSERT INTO source (client_id, source, name, shape, service, options, bank_texts, address, credentials, personal_data)
      VALUES (current_client(), ${source.source}, ${source.name}, ${source.shape}, ${source.service}, ${JSON.stringify(source.options)}::jsonb,
        ${JSON.stringify(source.bankTexts)}::jsonb, ${source.address}, ${sealed}::jsonb, ${source.personalData})`)
      await tx.execute(sql`INSERT INTO source_options (client_id, source, version, options)
      VALUES (current_client(), ${source.source}, 0, ${JSON.stringify(source.options)}::jsonb)`)
      for (const { currency, account } of source.clearing)
        await tx.execute(sql`INSERT INTO source_clearing (client_id, source, currency, account)
        VALUES (current_client(), ${source.source}, ${currency}, ${account})`)
      for (const bank of source.banks)
        await tx.execute(sql`INSERT INTO source_bank (client_id, source, direction, currency, region, account)
        VALUES (current_client(), ${source.source}, ${bank.direction}, ${bank.currency}, ${bank.region}, ${bank.account})`)
      const { credentials: _, make, ...told } = source
      await recordAct(tx, actor, {
        sort: 'add_source',
        note: source.name,
        touched: [
          { subject: 'source', key: subjectKey(source.source), after: factsOf(told) },
          ...make.map(({ code, ...account }) => ({
            subject: 'account' as const,
            key: subjectKey(code),
            after: factsOf(account),
          })),
        ],
      })
      await markStages(tx, ['sources', 'clearing'])
    }),
  )

const makeAccounts = async (tx: Transaction, accounts: z.output<typeof newSource>['make']): Promise<void> => {
  for (const { code, name, type, currency, bankNumber, description } of accounts) {
    if (!isCurrency(currency)) throw new Refused('currency_unknown', { currency })
    const made = await rowsOf(
      tx,
      {},
      sql`INSERT INTO account (client_id, code, name, type, currency, bank_number, description)
        VALUES (current_client(), ${code}, ${name}, ${type}, ${currency}, ${bankNumber}, ${description}) ON CONFLICT DO NOTHING RETURNING 1`,
    )
    if (made.length === 0) throw new Refused('account_taken', { code })
  }
}
