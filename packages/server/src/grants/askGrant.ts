import { randomUUID } from 'node:crypto'
import type { GrantScope } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { hashOf, randomToken } from '../access/secrets.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { consentAddress, freshVerifier } from './authorize.ts'
import { ServiceUnreachable } from './outsideService.ts'
import { sealAt } from './sealGrant.ts'
import { type Service, serviceNamed } from './services.ts'

/** How long a consent page may take whoever was sent there. */
const atThePageMinutes = 30

interface Wanted {
  readonly service: string
  readonly personalData: 'none' | 'name' | 'all'
  readonly forSource: string | null
}

const scopesOf = ({ sort }: Service, { personalData }: Wanted): GrantScope[] => {
  if (sort === 'bank') return ['statements']
  if (sort === 'ledger') return ['lists']
  return ['activity', 'settlements', 'balances', ...(personalData === 'none' ? [] : (['buyers'] as const))]
}

/** A state that goes to the service and back; whose it is stands at its beginning, so that the page that it comes back to knows where to ask. */
const stateOf = (whose: number | 'link'): string => `${whose}.${randomToken()}`

/** Asks where a service's consent page is. @throws Refused where it does not answer */
export const consentPage = async (service: Service, asked: Parameters<typeof consentAddress>[1]): Promise<string> => {
  try {
    return await consentAddress(service, asked)
  } catch (error) {
    throw error instanceof ServiceUnreachable ? new Refused('service_silent', { why: error.message }) : error
  }
}

const shopOf = async (tx: Transaction, source: string, service: string): Promise<string> => {
  const [row] = await rowsOf(
    tx,
    { shop: is.maybe(is.text) },
    sql`SELECT shop FROM source WHERE client_id = current_client() AND source = ${source}`,
  )
  if (!row?.shop?.startsWith(`${service}/`)) throw new Refused('not_found', { what: 'connected source' })
  return row.shop
}

const insertAsked = async (
  tx: Transaction,
  actor: Actor,
  asked: {
    readonly grantId: string
    readonly service: Service
    readonly wanted: Wanted
    readonly sent: { readonly state: string; readonly verifier: string; readonly redirect: string } | null
    readonly link: { readonly token: string; readonly sentTo: string | null } | null
    readonly minutes: number
  },
) => {
  const { grantId, service, wanted, sent, link, minutes } = asked
  const shop = wanted.forSource === null ? null : await shopOf(tx, wanted.forSource, service.key)
  const told = await oneRow(
    tx,
    { client: is.text, practice: is.text, by: is.text },
    sql`SELECT c.name AS client, p.name AS practice, u.name AS by FROM client c JOIN practice p USING (practice_id)
      JOIN app_user u ON u.user_id = ${actor.userId} WHERE c.client_id = current_client()`,
  )
  await tx.execute(sql`INSERT INTO service_grant (client_id, grant_id, service, name, sort, practice_name, client_name, asked_name, asked_by, asked_at,
      asked_until, scopes, for_source, for_shop, state_hash, verifier, redirect, link_hash, sent_to)
    VALUES (current_client(), ${grantId}, ${service.key}, ${service.name}, ${service.sort}, ${told.practice}, ${told.client}, ${told.by}, ${actor.userId},
      clock_now(), clock_now() + ${minutes} * interval '1 minute', ${JSON.stringify(scopesOf(service, wanted))}::jsonb, ${wanted.forSource}, ${shop},
      ${sent && hashOf(sent.state)}, ${sent && sealAt(sent.verifier, { of: 'verifier', clientId: actor.clientId, key: grantId })}::jsonb, ${sent?.redirect ?? null},
      ${link && hashOf(link.token)}, ${link?.sentTo ?? null})`)
  return told
}

/** Begins to connect a service as whoever asks: where its consent page is. @throws Refused */
export const askGrant = async (
  database: Database,
  actor: Actor,
  wanted: Wanted,
  redirect: string,
): Promise<{ grantId: string; address: string }> => {
  const service = serviceNamed(wanted.service)
  const grantId = randomUUID()
  const sent = { state: stateOf(actor.clientId), verifier: freshVerifier(), redirect }
  const address = await consentPage(service, { ...sent, scopes: scopesOf(service, wanted) })
  await retrying(() =>
    asClient(database, actor, tx =>
      insertAsked(tx, actor, { ...{ grantId, service, wanted, sent }, link: null, minutes: atThePageMinutes }),
    ),
  )
  return { grantId, address }
}

/** Asks the client's own people by a link. @throws Refused */
export const askOwner = async (
  database: Database,
  actor: Actor,
  wanted: Wanted & { readonly email: string | null; readonly days: number },
): Promise<{
  grantId: string
  token: string
  told: { client: string; practice: string; by: string; name: string }
}> => {
  const service = serviceNamed(wanted.service)
  const grantId = randomUUID()
  const token = randomToken()
  const link = { token, sentTo: wanted.email }
  const told = await retrying(() =>
    asClient(database, actor, async tx => {
      const facts = await insertAsked(tx, actor, {
        ...{ grantId, service, wanted, link },
        sent: null,
        minutes: wanted.days * 24 * 60,
      })
      await recordAct(tx, actor, {
        sort: 'ask_grant',
        note: service.name,
        touched: [{ subject: 'grant', key: grantId, after: { service: service.name, sentTo: wanted.email } }],
      })
      return facts
    }),
  )
  return { grantId, token, told: { ...told, name: service.name } }
}

/** Sends whoever came by a link to the consent page: from now on what comes back is expected of them. */
export const sendByLink = async (
  tx: Transaction,
  row: {
    readonly clientId: number
    readonly grantId: string
    readonly service: string
    readonly scopes: readonly string[]
  },
  redirect: string,
): Promise<string> => {
  const sent = { state: stateOf('link'), verifier: freshVerifier(), redirect }
  const address = await consentPage(serviceNamed(row.service), { ...sent, scopes: row.scopes })
  await tx.execute(sql`UPDATE service_grant SET state_hash = ${hashOf(sent.state)}, redirect = ${redirect},
      verifier = ${sealAt(sent.verifier, { of: 'verifier', clientId: row.clientId, key: row.grantId })}::jsonb
    WHERE client_id = current_client() AND grant_id = ${row.grantId}`)
  return address
}
