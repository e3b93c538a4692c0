import { grantScopes, type LinkedGrant } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { freshBinding, isBoundTo, type LinkName, type Visitor } from '../access/boundLink.ts'
import { Refused } from '../access/refused.ts'
import { hashOf } from '../access/secrets.ts'
import { asClient, byLink, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { sendByLink } from './askGrant.ts'
import { type CameBack, completeGrant, findAsked } from './completeGrant.ts'

const linkShape = {
  clientId: is.whole,
  grantId: is.text,
  service: is.text,
  name: is.text,
  practice: is.text,
  client: is.text,
  askedBy: is.text,
  askedAt: is.text,
  expiresAt: is.text,
  scopes: is.list(is.oneOf(...grantScopes)),
  bound: is.maybe(is.text),
  granted: is.yes,
  ended: is.maybe(is.text),
  over: is.yes,
}

const findLink = async (tx: Transaction, link: string) => {
  const [row] = await rowsOf(
    tx,
    linkShape,
    sql`SELECT client_id AS "clientId", grant_id AS "grantId", service, name, practice_name AS practice, client_name AS client, asked_name AS "askedBy",
      asked_at::text AS "askedAt", asked_until::text AS "expiresAt", scopes, bound_hash AS bound, granted_at IS NOT NULL AS granted, ended,
      asked_until <= clock_now() AS over
      FROM service_grant WHERE link_hash = ${link}`,
  )
  return row ?? null
}

/** What a link asks for, and what became of it; it changes nothing. @throws Refused where there is none */
export const lookAtGrant = (database: Database, token: string): Promise<LinkedGrant> =>
  byLink(database, { link: hashOf(token), clientId: null }, async tx => {
    const link = await findLink(tx, hashOf(token))
    if (!link) throw new Refused('link_spent')
    const { practice, client, askedBy, name, scopes } = link
    return {
      ...{ practice, client, askedBy, name, scopes: [...scopes] },
      askedAt: new Date(link.askedAt).toISOString(),
      expiresAt: new Date(link.expiresAt).toISOString(),
      state:
        link.ended === 'refused' ? 'refused' : link.granted ? 'granted' : link.ended || link.over ? 'over' : 'asked',
    }
  })

const nameOf = (link: string): LinkName => ({ purpose: 'grant', link })

/** Binds a link to this browser, and sends it to the consent page; pressed again it goes there anew. @throws Refused */
export const beginByLink = async (
  database: Database,
  visitor: Visitor,
  { token, redirect }: { readonly token: string; readonly redirect: string },
): Promise<string> => {
  const hash = hashOf(token)
  const known = await byLink(database, { link: hash, clientId: null }, tx => findLink(tx, hash))
  if (!known) throw new Refused('link_spent')
  let fresh: ReturnType<typeof freshBinding> | null = null
  const address = await byLink(database, { link: hash, clientId: known.clientId }, async tx => {
    await tx.execute(sql`SELECT FROM service_grant WHERE link_hash = ${hash} FOR NO KEY UPDATE`)
    const link = await findLink(tx, hash)
    if (!link || link.granted || link.ended !== null || link.over) throw new Refused('link_spent')
    if (link.bound === null) {
      fresh = freshBinding(visitor, nameOf(hash))
      await tx.execute(sql`UPDATE service_grant SET bound_hash = ${fresh.hash} WHERE link_hash = ${hash}`)
    } else if (!isBoundTo(visitor, nameOf(hash), link.bound)) throw new Refused('question_elsewhere')
    return sendByLink(tx, link, redirect)
  })
  ;(fresh as ReturnType<typeof freshBinding> | null)?.give(known.expiresAt)
  return address
}

/** Takes what came back for whoever was asked by a link. @throws Refused */
export const completeByLink = async (database: Database, visitor: Visitor, back: CameBack) => {
  const state = hashOf(back.state)
  const asked = await byLink(database, { link: state, clientId: null }, tx => findAsked(tx, back.state))
  if (asked?.linkHash == null || asked.bound === null || !isBoundTo(visitor, nameOf(asked.linkHash), asked.bound))
    throw new Refused('grant_spent')
  // Whoever comes by a link is nobody who signs in.
  const within = <Result>(work: (tx: Transaction) => Promise<Result>): Promise<Result> =>
    byLink(database, { link: state, clientId: asked.clientId }, work)
  const completed = await completeGrant(asked, back, {
    actor: { userId: 0, clientId: asked.clientId },
    within,
    asAsker: work => asClient(database, { userId: asked.askedBy, clientId: asked.clientId }, work),
  })
  const names = await within(tx =>
    oneRow(
      tx,
      { practice: is.text, client: is.text },
      sql`SELECT practice_name AS practice, client_name AS client FROM service_grant WHERE grant_id = ${asked.grantId}`,
    ),
  )
  return { ...completed, ...names }
}
