import { connectableSorts, type GrantRow, grantEnds, grantScopes } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { found } from '../access/refused.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Tokens } from './authorize.ts'
import { openAt } from './sealGrant.ts'

const scopes = is.list(is.oneOf(...grantScopes))
const iso = (moment: string | null): string | null => (moment === null ? null : new Date(moment).toISOString())

/** What was asked of services for this client, and what they granted; the last first. */
export const loadGrants = async (tx: Transaction, grantId: string | null = null): Promise<GrantRow[]> => {
  const rows = await rowsOf(
    tx,
    {
      grantId: is.text,
      service: is.text,
      name: is.text,
      sort: is.oneOf(...connectableSorts),
      askedBy: is.text,
      askedAt: is.text,
      byOwner: is.yes,
      askedUntil: is.text,
      askedOver: is.yes,
      sentTo: is.maybe(is.text),
      login: is.maybe(is.text),
      grantedAt: is.maybe(is.text),
      asked: scopes,
      granted: is.maybe(scopes),
      until: is.maybe(is.text),
      endsSoon: is.yes,
      ended: is.maybe(is.oneOf(...grantEnds)),
      endedAt: is.maybe(is.text),
      endedLately: is.yes,
      forSource: is.maybe(is.text),
      sources: is.list(is.text),
      accounts: is.list(is.text),
      company: is.maybe(is.text),
    },
    sql`SELECT grant_id AS "grantId", service, name, sort, asked_name AS "askedBy", asked_at::text AS "askedAt", link_hash IS NOT NULL AS "byOwner",
      asked_until::text AS "askedUntil", asked_until <= clock_now() AS "askedOver", sent_to AS "sentTo", login, granted_at::text AS "grantedAt", scopes AS asked, granted, until::text AS until,
      coalesce(until < clock_now() + interval '30 days', false) AS "endsSoon", coalesce(ended_at > clock_now() - interval '7 days', false) AS "endedLately",
      ended, ended_at::text AS "endedAt", for_source AS "forSource",
      (SELECT coalesce(json_agg(s.source ORDER BY s.name), '[]') FROM source s WHERE s.client_id = g.client_id AND s.grant_id = g.grant_id) AS sources,
      (SELECT coalesce(json_agg(b.bank_account ORDER BY b.bank_account), '[]') FROM bank_grant b WHERE b.client_id = g.client_id AND b.grant_id = g.grant_id) AS accounts,
      (SELECT company_name FROM ledger_link k WHERE k.client_id = g.client_id AND k.grant_id = g.grant_id) AS company
    FROM service_grant g WHERE client_id = current_client() ${grantId === null ? sql`` : sql`AND grant_id = ${grantId}`} ORDER BY asked_at DESC LIMIT 200`,
  )
  return rows.map(({ asked, granted, ...row }) => ({
    ...row,
    askedAt: new Date(row.askedAt).toISOString(),
    askedUntil: new Date(row.askedUntil).toISOString(),
    grantedAt: iso(row.grantedAt),
    until: iso(row.until),
    endedAt: iso(row.endedAt),
    scopes: granted ?? asked,
    lacking: granted === null ? [] : asked.filter(scope => !granted.includes(scope)),
  }))
}

/** One grant. @throws Refused where there is none */
export const loadGrant = async (tx: Transaction, grantId: string): Promise<GrantRow> =>
  found((await loadGrants(tx, grantId))[0], 'grant')

const tokensSchema = z.object({ access: z.string(), accessUntil: z.number(), refresh: z.string().nullable() })

/** Opens the tokens of a grant. @throws CannotUnseal */
export const openTokens = (kept: unknown, { clientId, grantId }: { clientId: number; grantId: string }): Tokens =>
  tokensSchema.parse(openAt(kept, { of: 'tokens', clientId, key: grantId }))
