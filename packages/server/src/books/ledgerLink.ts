import { csvRecord } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { endUnused, tellEnded } from '../grants/endGrant.ts'
import { outsideService, ServiceUnreachable } from '../grants/outsideService.ts'
import { serviceNamed } from '../grants/services.ts'
import { loadShops } from '../grants/shops.ts'
import { tokenSource } from '../grants/tokenSource.ts'

// A client's books may have been kept in an outside ledger: its lists come over, and come again, like files of them.

/** Lists that an outside ledger tells. */
export const ledgerLists = ['chart', 'tax-codes', 'contacts', 'items', 'opening', 'invoices', 'bills'] as const

/** The outside ledger that lists can be brought over from. */
export const loadLedger = async (tx: Transaction) => {
  const [row] = await rowsOf(
    tx,
    {
      grantId: is.text,
      service: is.text,
      key: is.text,
      name: is.text,
      company: is.text,
      login: is.maybe(is.text),
      ended: is.yes,
    },
    sql`SELECT k.grant_id AS "grantId", k.service, k.company AS key, k.company_name AS company, g.name, g.login, g.ended IS NOT NULL AS ended
      FROM ledger_link k JOIN service_grant g USING (client_id, grant_id) WHERE k.client_id = current_client()`,
  )
  return row ?? null
}

/** Links the books to a company of an outside ledger, in place of an earlier one. @throws Refused where the login does not hold it */
export const connectLedger = async (
  database: Database,
  actor: Actor,
  asked: { readonly grantId: string; readonly shop: string },
): Promise<void> => {
  const { grant, shops } = await loadShops(database, actor, asked.grantId)
  const wanted = shops.find(one => one.id === asked.shop)
  if (!wanted || grant.sort !== 'ledger')
    throw new Refused('shop_not_there', { login: grant.login ?? '', shop: asked.shop })
  const ended = await retrying(() =>
    asClient(database, actor, async tx => {
      const { rowCount } =
        await tx.execute(sql`SELECT FROM service_grant WHERE client_id = current_client() AND grant_id = ${asked.grantId}
        AND granted_at IS NOT NULL AND ended IS NULL FOR NO KEY UPDATE`)
      if (rowCount !== 1) throw new Refused('grant_ended', { name: grant.name })
      const former = await loadLedger(tx)
      await tx.execute(sql`INSERT INTO ledger_link (client_id, grant_id, service, company, company_name)
        VALUES (current_client(), ${asked.grantId}, ${grant.service}, ${asked.shop}, ${wanted.name})
        ON CONFLICT (client_id) DO UPDATE SET grant_id = excluded.grant_id, service = excluded.service, company = excluded.company,
          company_name = excluded.company_name`)
      await recordAct(tx, actor, {
        sort: 'connect',
        note: `${grant.name}: ${wanted.name}`,
        touched: [{ subject: 'grant', key: asked.grantId, after: { company: wanted.name } }],
      })
      return former && former.grantId !== asked.grantId && !former.ended ? endUnused(tx, actor, former.grantId) : null
    }),
  )
  await tellEnded(ended)
}

/** Ends the link, and its grant; whether the ledger heard. @throws Refused where there is none */
export const disconnectLedger = async (database: Database, actor: Actor): Promise<boolean> =>
  tellEnded(
    await retrying(() =>
      asClient(database, actor, async tx => {
        const link = await loadLedger(tx)
        if (!link) throw new Refused('not_found', { what: 'outside ledger' })
        await tx.execute(sql`DELETE FROM ledger_link WHERE client_id = current_client()`)
        await recordAct(tx, actor, {
          sort: 'disconnect',
          note: link.name,
          touched: [{ subject: 'grant', key: link.grantId, after: { connected: false } }],
        })
        return link.ended ? null : endUnused(tx, actor, link.grantId)
      }),
    ),
  )

const answerWithinMs = 30_000
const rowsSchema = z.object({ rows: z.array(z.record(z.string(), z.string())).max(50_000) })

/** A list of the outside ledger as CSV. @throws Refused where there is no such list, no ledger, or it does not answer */
export const askLedgerList = async (database: Database, actor: Actor, list: string): Promise<string> => {
  if (!(ledgerLists as readonly string[]).includes(list)) throw new Refused('not_found', { what: 'list of a ledger' })
  const link = await asClient(database, actor, loadLedger)
  if (!link || link.ended) throw new Refused('not_found', { what: 'outside ledger' })
  const signal = AbortSignal.timeout(answerWithinMs)
  try {
    const { get } = outsideService({
      name: link.name,
      address: `${serviceNamed(link.service).address}/shops/${encodeURIComponent(link.key)}`,
      access: tokenSource(database, actor, link.grantId),
      signal,
    })
    const { rows } = rowsSchema.parse(await get(`/lists/${list}`))
    const names = [...new Set(rows.flatMap(row => Object.keys(row)))]
    return [names, ...rows.map(row => names.map(name => row[name] ?? ''))].map(csvRecord).join('')
  } catch (error) {
    if (error instanceof ServiceUnreachable) throw new Refused('service_silent', { why: error.message })
    if (error instanceof z.ZodError || signal.aborted)
      throw new Refused('service_silent', { why: `${link.name} did not tell its list as it should` })
    throw error
  }
}
