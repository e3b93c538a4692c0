import { grantEnds } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { check, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { client } from '../clients/client.ts'
import { clientId, moment, oneOf } from '../columns.ts'

/**
 * What an outside service was asked to let a client's books be told: asked, then granted, then ended. Tokens and the verifier are sealed; of the state that
 * goes to the service and back, and of an owner's link, only hashes are kept.
 */
export const serviceGrant = pgTable(
  'service_grant',
  {
    clientId: clientId().references(() => client.clientId),
    grantId: text('grant_id').notNull(),
    service: text('service').notNull(),
    /** The service's name, and of the others concerned, as they were called then: what an owner's page shows. */
    name: text('name').notNull(),
    sort: text('sort').notNull(),
    practiceName: text('practice_name').notNull(),
    clientName: text('client_name').notNull(),
    askedName: text('asked_name').notNull(),
    askedBy: integer('asked_by').notNull(),
    askedAt: moment('asked_at').notNull(),
    askedUntil: moment('asked_until').notNull(),
    scopes: jsonb('scopes').notNull(),
    /** The source that it is to connect again. */
    forSource: text('for_source'),
    /** Its shop, which whoever grants must hold. */
    forShop: text('for_shop'),
    stateHash: text('state_hash').unique(),
    /** Sealed: what proves that who comes back is who was sent (PKCE). */
    verifier: jsonb('verifier'),
    redirect: text('redirect'),
    /** Of the link by which the client's own people are asked. */
    linkHash: text('link_hash').unique(),
    sentTo: text('sent_to'),
    /** The browser that went to the service by the link. */
    boundHash: text('bound_hash'),
    grantedAt: moment('granted_at'),
    login: text('login'),
    granted: jsonb('granted'),
    until: moment('until'),
    /** Sealed: `{ access, accessUntil, refresh }`. */
    tokens: jsonb('tokens'),
    ended: text('ended'),
    endedAt: moment('ended_at'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.grantId] }),
    check('service_grant_ended', oneOf('ended', grantEnds)),
    check(
      'service_grant_whole',
      sql`(ended IS NULL) = (ended_at IS NULL) AND (granted_at IS NULL) = (granted IS NULL)`,
    ),
    // What has ended opens nothing any more, whoever reads it.
    check('service_grant_forgotten', sql`ended IS NULL OR (tokens IS NULL AND verifier IS NULL)`),
  ],
)
