import type { newSource } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'

/** Adds a source to a client, with its clearing accounts and the bank accounts it pays into and draws from. */
export const createSource = (database: Database, actor: Actor, source: z.output<typeof newSource>): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await tx.execute(sql`INSERT INTO source (client_id, source, name, shape, options, bank_texts, address, credentials)
      VALUES (current_client(), ${source.source}, ${source.name}, ${source.shape}, ${JSON.stringify(source.options)}::jsonb,
        ${JSON.stringify(source.bankTexts)}::jsonb, ${source.address}, ${source.credentials === null ? null : JSON.stringify(source.credentials)}::jsonb)`)
      await tx.execute(sql`INSERT INTO source_options (client_id, source, version, options)
      VALUES (current_client(), ${source.source}, 0, ${JSON.stringify(source.options)}::jsonb)`)
      for (const { currency, account } of source.clearing)
        await tx.execute(sql`INSERT INTO source_clearing (client_id, source, currency, account)
        VALUES (current_client(), ${source.source}, ${currency}, ${account})`)
      for (const bank of source.banks)
        await tx.execute(sql`INSERT INTO source_bank (client_id, source, direction, currency, region, account)
        VALUES (current_client(), ${source.source}, ${bank.direction}, ${bank.currency}, ${bank.region}, ${bank.account})`)
      await markStages(tx, ['sources', 'clearing'])
    }),
  )
