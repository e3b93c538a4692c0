import { type GrantScope, grantScopes } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { hashOf } from '../access/secrets.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type Granted, NotGranted, redeem, revoke, type Tokens } from './authorize.ts'
import { openTokens } from './grantRows.ts'
import { ServiceUnreachable } from './outsideService.ts'
import { openAt, sealAt } from './sealGrant.ts'
import { serviceNamed } from './services.ts'
import { askShops, shopKey } from './shops.ts'
import { endGrantRow } from './tokenSource.ts'

/** What came back from a consent page. */
export interface CameBack {
  readonly state: string
  readonly code: string | null
  readonly error: string | null
  readonly iss: string | null
}

interface Completed {
  readonly grantId: string
  readonly name: string
  readonly outcome: 'granted' | 'refused'
  readonly reconnected: string | null
}

const askedShape = {
  clientId: is.whole,
  grantId: is.text,
  service: is.text,
  name: is.text,
  askedBy: is.whole,
  linkHash: is.maybe(is.text),
  bound: is.maybe(is.text),
  redirect: is.maybe(is.text),
  verifier: is.anything,
  forSource: is.maybe(is.text),
  shop: is.maybe(is.text),
  over: is.yes,
}

/** What was asked under a state; null where nothing was, or not any more. */
export const findAsked = async (tx: Transaction, state: string) => {
  const [row] = await rowsOf(
    tx,
    askedShape,
    sql`SELECT g.client_id AS "clientId", g.grant_id AS "grantId", g.service, g.name, g.asked_by AS "askedBy", g.link_hash AS "linkHash", g.bound_hash AS bound,
      g.redirect, g.verifier, g.for_source AS "forSource",
      g.for_shop AS shop,
      g.granted_at IS NOT NULL OR g.ended IS NOT NULL OR g.asked_until <= clock_now() AS over
      FROM service_grant g WHERE g.state_hash = ${hashOf(state)}`,
  )
  return row && !row.over && row.redirect !== null ? { ...row, redirect: row.redirect } : null
}
export type AskedGrant = NonNullable<Awaited<ReturnType<typeof findAsked>>>

type Within = <Result>(work: (tx: Transaction) => Promise<Result>) => Promise<Result>

const granted = async (asked: AskedGrant, back: CameBack): Promise<Granted | null> => {
  const verifier = openAt(asked.verifier, { of: 'verifier', clientId: asked.clientId, key: asked.grantId })
  const parameters = new URLSearchParams({ state: back.state })
  for (const name of ['code', 'error', 'iss'] as const) {
    const value = back[name]
    if (value !== null) parameters.set(name, value)
  }
  try {
    return await redeem(serviceNamed(asked.service), {
      ...{ parameters, state: back.state, redirect: asked.redirect },
      verifier: String(verifier),
    })
  } catch (error) {
    if (error instanceof NotGranted) return null
    throw error instanceof ServiceUnreachable ? new Refused('service_silent', { why: error.message }) : error
  }
}

const isScope = (scope: string): scope is GrantScope => (grantScopes as readonly string[]).includes(scope)

/** Keeps what was granted, and connects the source again that it was asked for; what the service granted for nothing is given back. @throws Refused */
export const completeGrant = async (
  asked: AskedGrant,
  back: CameBack,
  as: {
    readonly actor: Actor
    /** As whoever came back. */
    readonly within: Within
    /** As who may change the source: whoever comes by a link sees none, and it is changed as who asked them. */
    readonly asAsker: Within
  },
): Promise<Completed> => {
  const { actor, within } = as
  const { grantId, name } = asked
  const got = back.error === null && back.code !== null ? await granted(asked, back) : null
  if (got === null) {
    await within(async tx => {
      if (!(await endGrantRow(tx, grantId, 'refused'))) throw new Refused('grant_spent')
      await recordAct(tx, actor, {
        sort: 'refuse_grant',
        note: name,
        touched: [{ subject: 'grant', key: grantId, after: { refused: true } }],
      })
      await markLater(tx, asked)
    })
    return { grantId, name, outcome: 'refused', reconnected: null }
  }
  const service = serviceNamed(asked.service)
  const giveBack = async (): Promise<void> => {
    if (got.tokens.refresh !== null) await revoke(service, got.tokens.refresh)
  }
  let kept = false
  try {
    if (asked.forSource !== null) {
      const shops = await askShops(service, () => Promise.resolve(got.tokens.access))
      if (!shops.some(shop => shopKey(asked.service, shop.id) === asked.shop))
        throw new Refused('shop_not_there', { login: got.login, shop: asked.shop ?? '' })
    }
    await within(tx => keepGranted(tx, asked, got, actor))
    kept = true
    const { forSource } = asked
    const former = forSource === null ? null : await as.asAsker(tx => takePlace(tx, asked, forSource))
    if (former?.refresh) await revoke(service, former.refresh)
  } catch (error) {
    await giveBack()
    // What was given back there opens nothing here either.
    if (kept) await within(tx => endGrantRow(tx, grantId, 'not_given'))
    throw error
  }
  return { grantId, name, outcome: 'granted', reconnected: asked.forSource }
}

const keepGranted = async (tx: Transaction, asked: AskedGrant, got: Granted, actor: Actor): Promise<void> => {
  const { grantId, clientId } = asked
  const scopes = got.scopes.filter(isScope)
  const { rowCount } =
    await tx.execute(sql`UPDATE service_grant SET granted_at = clock_now(), login = ${got.login}, granted = ${JSON.stringify(scopes)}::jsonb,
      until = ${got.until}::timestamptz, tokens = ${sealAt(got.tokens, { of: 'tokens', clientId, key: grantId })}::jsonb, verifier = NULL
    WHERE client_id = current_client() AND grant_id = ${grantId} AND granted_at IS NULL AND ended IS NULL`)
  if (rowCount !== 1) throw new Refused('grant_spent')
  await recordAct(tx, actor, {
    sort: 'take_grant',
    note: asked.name,
    touched: [
      {
        subject: 'grant',
        key: grantId,
        after: { service: asked.name, login: got.login, scopes: scopes.join(' '), until: got.until },
      },
    ],
  })
  await markLater(tx, asked)
}

// Whoever came by a link sees no stage of the client: what they did is counted when somebody looks.
const markLater = async (tx: Transaction, { linkHash }: AskedGrant): Promise<void> => {
  if (linkHash === null) await markStages(tx, ['sources'])
}

/** Puts a grant in the place of a source's former one; one that serves nothing any more is ended, and its tokens are returned to be revoked. */
const takePlace = async (
  tx: Transaction,
  { clientId, grantId, shop }: AskedGrant,
  source: string,
): Promise<Tokens | null> => {
  const [before] = await rowsOf(
    tx,
    { former: is.maybe(is.text), tokens: is.anything, shared: is.yes },
    sql`SELECT s.grant_id AS former, g.tokens,
        EXISTS (SELECT FROM source o WHERE o.client_id = s.client_id AND o.grant_id = s.grant_id AND o.source <> s.source) AS shared
      FROM source s LEFT JOIN service_grant g USING (client_id, grant_id) WHERE s.client_id = current_client() AND s.source = ${source} FOR NO KEY UPDATE OF s`,
  )
  if (!before) throw new Refused('not_found', { what: 'source' })
  const { rowCount } = await tx.execute(
    sql`UPDATE source SET grant_id = ${grantId} WHERE client_id = current_client() AND source = ${source} AND shop = ${shop}`,
  )
  // It was disconnected while somebody was at the service.
  if (rowCount !== 1) throw new Refused('not_connected')
  await markStages(tx, ['sources'])
  if (before.former === null || before.shared || !(await endGrantRow(tx, before.former, 'replaced'))) return null
  return before.tokens === null ? null : openTokens(before.tokens, { clientId, grantId: before.former })
}

/** Takes what came back for somebody who signed in, and was sent there. @throws Refused */
export const completeOwn = async (database: Database, actor: Actor, back: CameBack): Promise<Completed> => {
  const asked = await asClient(database, actor, tx => findAsked(tx, back.state))
  // What another was sent for is not taken from this one: their shops are not for these books.
  if (!asked || asked.linkHash !== null || asked.askedBy !== actor.userId || asked.clientId !== actor.clientId)
    throw new Refused('grant_spent')
  const within: Within = work => asClient(database, actor, work)
  return completeGrant(asked, back, { actor, within, asAsker: within })
}
