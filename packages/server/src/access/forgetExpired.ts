import { sql } from 'drizzle-orm'
import { asPerson, type Database } from '../database/connect.ts'

/** For how many days what is over is kept, to be looked into. */
const keptDays = 90

/**
 * Forgets what is long over of signing in: sessions, links, counts of tries, tokens and invitations that nobody can use any more. What they did stays in the
 * acts. Safe to run at any time, by several processes.
 */
export const forgetExpired = (database: Database): Promise<void> =>
  asPerson(database, 0, async tx => {
    const before = sql`now() - ${keptDays} * interval '1 day'`
    await tx.execute(sql`DELETE FROM auth.session WHERE "expiresAt" < ${before}`)
    await tx.execute(sql`DELETE FROM auth.verification WHERE "expiresAt" < now() - interval '1 day'`)
    await tx.execute(
      sql`DELETE FROM auth.tries WHERE expire IS NOT NULL AND expire < extract(epoch FROM now() - interval '1 day') * 1000`,
    )
    await tx.execute(sql`DELETE FROM address_change WHERE expires_at < ${before}`)
    await tx.execute(sql`DELETE FROM access_token WHERE least(expires_at, withdrawn_at) < ${before}`)
    await tx.execute(sql`DELETE FROM invitation WHERE least(expires_at, used_at, withdrawn_at) < ${before}`)
  })
