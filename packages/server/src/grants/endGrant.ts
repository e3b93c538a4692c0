import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { revoke } from './authorize.ts'
import { loadGrant, openTokens } from './grantRows.ts'
import { services } from './services.ts'
import { endGrantRow } from './tokenSource.ts'

/** What has to be told to a service whose grant has ended here. */
export interface ToRevoke {
  readonly service: string
  readonly refresh: string | null
}

/** Ends a grant here, in the caller's transaction; the service is to be told after it. Null where it had ended. */
export const endHere = async (tx: Transaction, { clientId }: Actor, grantId: string): Promise<ToRevoke | null> => {
  const row = await oneRow(
    tx,
    { service: is.text, tokens: is.anything, granted: is.yes },
    sql`SELECT service, tokens, granted_at IS NOT NULL AS granted FROM service_grant
      WHERE client_id = current_client() AND grant_id = ${grantId} FOR NO KEY UPDATE`,
  )
  if (!(await endGrantRow(tx, grantId, row.granted ? 'disconnected' : 'not_given'))) return null
  return {
    service: row.service,
    refresh: row.tokens === null ? null : openTokens(row.tokens, { clientId, grantId }).refresh,
  }
}

/** Tells a service that its grant is not used any more; whether it heard. What was never granted needs no telling. */
export const tellEnded = async (ended: ToRevoke | null): Promise<boolean> => {
  if (ended?.refresh == null) return true
  const service = services().find(one => one.key === ended.service)
  return service ? revoke(service, ended.refresh) : false
}

/** Ends a grant that serves nothing any more, in the caller's transaction. */
export const endUnused = async (tx: Transaction, actor: Actor, grantId: string): Promise<ToRevoke | null> => {
  const { sources, accounts, company } = await loadGrant(tx, grantId)
  return sources.length + accounts.length > 0 || company !== null ? null : endHere(tx, actor, grantId)
}

/** Ends a grant that serves no source, or an asking. @throws Refused */
export const endGrant = async (database: Database, actor: Actor, grantId: string): Promise<boolean> =>
  tellEnded(
    await retrying(() =>
      asClient(database, actor, async tx => {
        const grant = await loadGrant(tx, grantId)
        const serves = [...grant.sources, ...grant.accounts, ...(grant.company === null ? [] : [grant.company])]
        if (serves.length > 0) throw new Refused('grant_serves', { sources: serves.join(', ') })
        const ended = await endHere(tx, actor, grantId)
        await recordAct(tx, actor, {
          sort: 'end_grant',
          note: grant.name,
          touched: [{ subject: 'grant', key: grantId, after: { ended: true } }],
        })
        await markStages(tx, ['sources'])
        return ended
      }),
    ),
  )
