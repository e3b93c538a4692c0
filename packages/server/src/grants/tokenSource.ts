import { type GrantEnd, grantEnds } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { NotGranted, renewTokens } from './authorize.ts'
import { openTokens } from './grantRows.ts'
import { ServiceUnreachable, type TokenSource } from './outsideService.ts'
import { sealAt } from './sealGrant.ts'
import { serviceNamed } from './services.ts'

/** A token is not used in the last moments that it has. */
const marginMs = 30_000

const endText: Partial<Record<GrantEnd, string>> = {
  withdrawn: 'it was withdrawn there, or ran out',
  over: 'its time is over',
  disconnected: 'it was disconnected here',
  replaced: 'another took its place',
}

/** Ends a grant: what it could open is forgotten. Tells whether it stood. */
export const endGrantRow = async (tx: Transaction, grantId: string, ended: GrantEnd): Promise<boolean> => {
  const { rowCount } =
    await tx.execute(sql`UPDATE service_grant SET ended = ${ended}, ended_at = clock_now(), tokens = NULL, verifier = NULL
    WHERE client_id = current_client() AND grant_id = ${grantId} AND ended IS NULL`)
  return rowCount === 1
}

/**
 * Tokens of a grant, for whoever asks its service. The grant is held while the next is fetched: refresh tokens change with every use, and of two who used the
 * same one the second would end it for both. @throws ServiceUnreachable, also where the grant has ended
 */
export const tokenSource =
  (database: Database, actor: Actor, grantId: string): TokenSource =>
  async spent => {
    const outcome: { token: string } | { name: string; ended: GrantEnd } = await asClient(database, actor, async tx => {
      const row = await oneRow(
        tx,
        {
          service: is.text,
          name: is.text,
          tokens: is.anything,
          ended: is.maybe(is.oneOf(...grantEnds)),
          over: is.yes,
        },
        sql`SELECT service, name, tokens, ended, coalesce(until <= clock_now(), false) AS over FROM service_grant
          WHERE client_id = current_client() AND grant_id = ${grantId} FOR NO KEY UPDATE`,
      )
      if (row.ended !== null) return { name: row.name, ended: row.ended }
      const tokens = openTokens(row.tokens, { clientId: actor.clientId, grantId })
      if (tokens.access !== spent && tokens.accessUntil > Date.now() + marginMs && !row.over)
        return { token: tokens.access }
      try {
        if (tokens.refresh === null) throw new NotGranted(row.name)
        const next = await renewTokens(serviceNamed(row.service), tokens.refresh)
        await tx.execute(sql`UPDATE service_grant SET tokens = ${sealAt(next, { of: 'tokens', clientId: actor.clientId, key: grantId })}::jsonb
          WHERE client_id = current_client() AND grant_id = ${grantId}`)
        return { token: next.access }
      } catch (error) {
        if (!(error instanceof NotGranted)) throw error
        const ended: GrantEnd = row.over || tokens.refresh === null ? 'over' : 'withdrawn'
        await endGrantRow(tx, grantId, ended)
        await markStages(tx, ['sources'])
        return { name: row.name, ended }
      }
    })
    if ('token' in outcome) return outcome.token
    throw new ServiceUnreachable(
      `${outcome.name} does not let its activity be seen any more: ${endText[outcome.ended] ?? 'it was not granted'}. Connect it again; what was brought in stays`,
    )
  }
