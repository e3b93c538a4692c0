import { type sourceOfShop, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { sqlState } from '../database/sqlState.ts'
import { loadShops, shopKey } from '../grants/shops.ts'
import type { Jobs } from '../jobs/boss.ts'
import { createSource, type GrantedShop, refuseTaken } from './createSource.ts'
import { startPull } from './startPull.ts'

const uniqueViolation = '23505'

const taken = (shop: string, serves: string | null) => new Refused('shop_taken', { shop, serves })

/** A shop of a grant that serves nobody yet. What the login does not hold would be kept from whoever does. @throws Refused */
const freeShop = async (
  database: Database,
  actor: Actor,
  of: { readonly grantId: string; readonly shop: string },
): Promise<{ readonly name: string; readonly granted: GrantedShop }> => {
  const { grant, shops } = await loadShops(database, actor, of.grantId)
  const wanted = shops.find(one => one.id === of.shop)
  if (!wanted) throw new Refused('shop_not_there', { login: grant.login ?? '', shop: of.shop })
  if (wanted.serves) throw taken(wanted.name, wanted.serves.own ? wanted.serves.source : wanted.serves.client)
  return { name: wanted.name, granted: { ...of, service: grant.service } }
}

// Of two that take a shop at once the key on it lets one.
const orTaken = async (shop: string, work: () => Promise<void>): Promise<void> => {
  try {
    await work()
  } catch (error) {
    throw sqlState(error) === uniqueViolation ? taken(shop, null) : error
  }
}

/** Makes a source of a shop that was granted, and begins to pull it; the job of the pull. @throws Refused where the login does not hold the shop, or it serves somebody already */
export const connectShop = async (
  database: Database,
  jobs: Jobs,
  actor: Actor,
  asked: { readonly grantId: string; readonly wanted: z.output<typeof sourceOfShop> },
): Promise<string> => {
  const { shop, ...source } = asked.wanted
  const { name, granted } = await freeShop(database, actor, { grantId: asked.grantId, shop })
  await orTaken(name, () => createSource(database, actor, { ...source, address: null, credentials: null }, granted))
  return startPull(database, jobs, actor, source.source)
}

/** Connects a source that came as files to a shop that was granted. @throws Refused where it is connected, the login does not hold the shop, or it serves somebody already */
export const attachShop = async (
  database: Database,
  actor: Actor,
  asked: { readonly grantId: string; readonly source: string; readonly shop: string },
): Promise<void> => {
  const { source, ...of } = asked
  const { name, granted } = await freeShop(database, actor, of)
  await orTaken(name, () =>
    retrying(() =>
      asClient(database, actor, async tx => {
        await refuseTaken(tx, granted)
        const key = shopKey(granted.service, granted.shop)
        const { rowCount } = await tx.execute(sql`UPDATE source SET grant_id = ${granted.grantId}, shop = ${key}
          WHERE client_id = current_client() AND source = ${source} AND grant_id IS NULL AND address IS NULL`)
        if (rowCount !== 1) throw new Refused('not_found', { what: 'source that comes as files' })
        await recordAct(tx, actor, {
          sort: 'connect',
          note: name,
          touched: [
            { subject: 'source', key: subjectKey(source), after: { shop: key } },
            { subject: 'grant', key: granted.grantId },
          ],
        })
        await markStages(tx, ['sources'])
      }),
    ),
  )
}
