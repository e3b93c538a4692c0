import { sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { type Actor, asClient, connect } from '../database/connect.ts'
import { Unread } from '../database/rows.ts'
import { saveLabels } from '../payments/saveLabels.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { csvOf, makeClientWithWeeks, type Row, testDatabase, upload } from '../testing/madeClient.ts'
import { loadSetup } from './loadSetup.ts'
import { optionsShape, stored } from './stored.ts'

const database = testDatabase(6)
// Its tables change behind the application's back, as pages of the set-up will change them.
const admin = connect(process.env.DATABASE_URL ?? '', 2)
afterAll(async () => {
  await database.$client.end()
  await admin.$client.end()
})
let actor: Actor
let weeks: Awaited<ReturnType<typeof makeClientWithWeeks>>
beforeEach(async () => {
  weeks = await makeClientWithWeeks(database, 'Kept whole', 2, 3)
  actor = weeks.actor
})

const setupAt = (version: number | null) => asClient(database, actor, tx => loadSetup(tx, version))

describe('a version of the setup', () => {
  it('keeps all that decided bookings, whatever changes after it', async () => {
    const then = await setupAt(null)
    await postSettlements(database, actor, weeks.keys.slice(0, 1))
    await admin.execute(sql`
      INSERT INTO account (client_id, code, name, type, currency) VALUES (${actor.clientId}, '1999', 'Another bank', 'bank', 'EUR')`)
    for (const change of [
      sql`UPDATE client SET cut_off = '06:00', time_zone = 'America/Toronto', fiscal_start = 4, exchange_rounding = '6000' WHERE client_id = ${actor.clientId}`,
      sql`UPDATE source_bank SET account = '1999' WHERE client_id = ${actor.clientId}`,
      sql`UPDATE source SET options = '{"taxRounding": "line"}', bank_texts = '["ELSE"]' WHERE client_id = ${actor.clientId}`,
      sql`UPDATE account SET type = 'other_income', archived = true WHERE client_id = ${actor.clientId} AND code = '4000'`,
    ])
      await admin.execute(change)
    await saveLabels(database, actor, [])
    const now = await setupAt(null)
    expect(now.setup.sources.get('openhall')).toMatchObject({ paysInto: [{ account: '1999' }], bankTexts: ['ELSE'] })
    expect([now.cutOff, now.fiscalStart, now.setup.exchangeRounding]).toEqual([360, 4, '6000'])
    const kept = await setupAt(then.mapVersion)
    // What a source is called on bank lines decides no booking, and is told as it is now.
    const { bankTexts: _, ...source } = then.setup.sources.get('openhall') ?? {}
    expect(kept.setup.sources.get('openhall')).toMatchObject(source)
    expect(kept.setup.accounts.get('4000')).toEqual(then.setup.accounts.get('4000'))
    expect(kept.setup.accounts.get('1999')).toMatchObject({ type: 'bank' })
    for (const fact of ['cutOff', 'fiscalStart', 'exchangeDifference', 'base'] as const)
      expect(kept[fact]).toBe(then[fact])
    expect(kept.zone.localDate(Date.parse('2026-01-05T23:30:00Z'))).toBe('2026-01-05')
  })

  it('books a correction as its settlement was booked', async () => {
    const [first] = weeks.keys
    if (!first) throw new Error('no settlement')
    await postSettlements(database, actor, [first])
    // Composed by the accounts of now it would be blocked.
    await admin.execute(sql`UPDATE account SET archived = true WHERE client_id = ${actor.clientId} AND code = '4000'`)
    await saveLabels(database, actor, [])
    const [one, other] = weeks.weeks.lines.filter(line => line.settlement_id === first.key && line.kind !== 'payout')
    const moved = (line: typeof one, by: number) => ({ ...line, amount: (Number(line?.amount) + by).toFixed(2) })
    await upload(database, actor, csvOf([moved(one, -1), moved(other, 1)] as Row[]))
    expect(await bookCorrection(database, actor, first)).toMatchObject({ ok: true })
  })

  it('that was kept before takes what it did not keep as it is now', async () => {
    const { mapVersion } = await setupAt(null)
    await admin.execute(sql`UPDATE map_version SET kept = NULL WHERE client_id = ${actor.clientId}`)
    await admin.execute(sql`UPDATE client SET cut_off = '06:00' WHERE client_id = ${actor.clientId}`)
    expect((await setupAt(mapVersion)).cutOff).toBe(360)
  })

  it('of a shape that is not known, or of none, is not taken for one', async () => {
    const { mapVersion } = await setupAt(null)
    for (const kept of ['{"shape": 99}', '{"shape": 1, "facts": {}}', '{}', '[]']) {
      await admin.execute(sql`UPDATE map_version SET kept = ${kept}::jsonb WHERE client_id = ${actor.clientId}`)
      await expect(setupAt(mapVersion), kept).rejects.toThrow(Unread)
    }
  })
})

describe('what was stored formerly', () => {
  const code = {
    use: 'sales',
    code: 'S23',
    name: 'VAT 23',
    basis: 'inclusive',
    components: [],
    reverseCharge: false,
  }
  it('is read as it was meant', () => {
    expect(stored.keptTaxCode({ ...code })).toMatchObject({ treatment: 'taxed' })
    expect(stored.keptTaxCode({ ...code, treatment: 'zero' })).toMatchObject({ treatment: 'zero' })
    expect(() => stored.taxCode({ ...code })).toThrow(Unread)
    // Routes before items, elsewhere, charges; options before most of them.
    const route = { id: 1, kind: 'sale', from: null, account: '4000', taxCode: null, segments: {}, block: false }
    expect(stored.route({ ...route })).toEqual(route)
    expect(() => stored.route({ ...route, kind: 'gift' })).toThrow('kind: a kind of movement was expected')
    expect(stored.options({})).toEqual({})
    expect(Object.keys(optionsShape)).toContain('dateBasis')
  })
})
