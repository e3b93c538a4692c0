import { type newSource, subjectKey } from '@culvert/contract'
import { isCurrency } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { found, Refused } from '../access/refused.ts'
import { refuseUnasked } from '../access/refuseUnasked.ts'
import { factsOf } from '../acts/changes.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { sealAt } from '../grants/sealGrant.ts'
import { shopKey, whomShopsServe } from '../grants/shops.ts'
import { holdBanks } from '../ledger/holdBanks.ts'

/** A shop that a source is pulled from, and by which grant. */
export interface GrantedShop {
  readonly grantId: string
  readonly service: string
  readonly shop: string
}

/** Adds a source to a client, with its clearing accounts and the bank accounts it pays into and draws from. @throws Refused */
export const createSource = (
  database: Database,
  actor: Actor,
  source: z.output<typeof newSource>,
  granted: GrantedShop | null = null,
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      if (granted) await refuseTaken(tx, granted)
      const [there] = await rowsOf(
        tx,
        {},
        sql`SELECT FROM source WHERE client_id = current_client() AND source = ${source.source}`,
      )
      if (there) throw new Refused('source_taken', { source: source.source })
      await makeAccounts(tx, source.make)
      if (source.address !== null) refuseUnasked(source.address)
      const sealed =
        source.credentials && sealAt(source.credentials, { of: 'source', clientId: actor.clientId, key: source.source })
      await tx.execute(sql`INSERT INTO source (client_id, source, name, shape, service, options, bank_texts, address, credentials, personal_data, grant_id, shop)
      VALUES (current_client(), ${source.source}, ${source.name}, ${source.shape}, ${source.service}, ${JSON.stringify(source.options)}::jsonb,
        ${JSON.stringify(source.bankTexts)}::jsonb, ${source.address}, ${sealed}::jsonb, ${source.personalData},
        ${granted?.grantId ?? null}, ${granted && shopKey(granted.service, granted.shop)})`)
      await tx.execute(sql`INSERT INTO source_options (client_id, source, version, options)
      VALUES (current_client(), ${source.source}, 0, ${JSON.stringify(source.options)}::jsonb)`)
      for (const { currency, account } of source.clearing)
        await tx.execute(sql`INSERT INTO source_clearing (client_id, source, currency, account)
        VALUES (current_client(), ${source.source}, ${currency}, ${account})`)
      await holdBanks(
        tx,
        source.banks.map(bank => bank.account),
      )
      for (const bank of source.banks)
        await tx.execute(sql`INSERT INTO source_bank (client_id, source, direction, currency, region, account)
        VALUES (current_client(), ${source.source}, ${bank.direction}, ${bank.currency}, ${bank.region}, ${bank.account})`)
      const { credentials: _, make, ...told } = source
      await recordAct(tx, actor, {
        sort: 'add_source',
        note: source.name,
        touched: [
          { subject: 'source', key: subjectKey(source.source), after: factsOf({ ...told, shop: granted?.shop }) },
          ...(granted ? [{ subject: 'grant' as const, key: granted.grantId }] : []),
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

/** Holds a grant, so that it cannot end in the meantime. @throws Refused where it has ended, or its shop serves somebody already */
export const refuseTaken = async (tx: Transaction, { grantId, service, shop }: GrantedShop): Promise<void> => {
  const [grant] = await rowsOf(
    tx,
    { name: is.text, stands: is.yes },
    sql`SELECT name, granted_at IS NOT NULL AND ended IS NULL AS stands FROM service_grant
      WHERE client_id = current_client() AND grant_id = ${grantId} AND service = ${service} FOR NO KEY UPDATE`,
  )
  const { name, stands } = found(grant, 'grant')
  if (!stands) throw new Refused('grant_ended', { name })
  const taken = (await whomShopsServe(tx, [shopKey(service, shop)])).get(shopKey(service, shop))
  if (taken) throw new Refused('shop_taken', { shop, serves: taken.own ? taken.source : taken.client })
}

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
