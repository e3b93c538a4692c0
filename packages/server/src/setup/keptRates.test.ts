import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { saveRates } from '../books/saveRates.ts'
import { asClient } from '../database/connect.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { loadSetup } from './loadSetup.ts'
import { countSave } from './versions.ts'

// Few connections: each is asked again and again.
const database = testDatabase(2)
afterAll(() => database.$client.end())

const rate = (date: string, text: string) => ({ date, from: 'USD', to: 'EUR', rate: text })

it('are read anew after one was saved, on every connection, and of no other client', async () => {
  const actor = await makeClient(database, 'Rates kept')
  const other = await makeClient(database, 'Rates of another')
  const seen = (of = actor) =>
    asClient(database, of, async tx => (await loadSetup(tx)).setup.rates.map(one => one.rate))
  const everywhere = () => Promise.all([seen(), seen(), seen(), seen()])
  expect(await everywhere()).toEqual([[], [], [], []])
  await saveRates(database, actor, [rate('2026-01-01', '0.9')])
  expect(await everywhere()).toEqual([['0.9'], ['0.9'], ['0.9'], ['0.9']])
  await saveRates(database, actor, [rate('2026-01-01', '0.8')])
  expect(await everywhere()).toEqual([['0.8'], ['0.8'], ['0.8'], ['0.8']])
  expect(await seen(other)).toEqual([])
})

it('of a save that was rolled back are not taken for those of the one that came instead', async () => {
  const actor = await makeClient(database, 'Rolled back')
  await saveRates(database, actor, [rate('2026-01-01', '0.9')])
  for (let connection = 0; connection < 2; connection++)
    await asClient(database, actor, async tx => {
      await countSave(tx)
      await tx.execute(sql`UPDATE exchange_rate SET rate = 7 WHERE client_id = current_client()`)
      expect((await loadSetup(tx)).setup.rates).toMatchObject([{ rate: '7' }])
      throw new Error('given up')
    }).catch(() => undefined)
  await saveRates(database, actor, [rate('2026-01-01', '0.8')])
  const seen = () => asClient(database, actor, async tx => (await loadSetup(tx)).setup.rates)
  for (const rates of await Promise.all([seen(), seen(), seen()])) expect(rates).toMatchObject([{ rate: '0.8' }])
})

it('many of them are read once', async () => {
  const actor = await makeClient(database, 'Years of rates')
  await asClient(database, actor, async tx => {
    await tx.execute(sql`INSERT INTO exchange_rate (client_id, date, "from", "to", rate)
      SELECT current_client(), date '1990-01-01' + n, 'USD', 'EUR', 0.9 FROM generate_series(0, 17999) n`)
    await countSave(tx)
  })
  const load = () => asClient(database, actor, async tx => (await loadSetup(tx)).setup.rates)
  const [first, again] = [await load(), await load()]
  expect(first).toHaveLength(18_000)
  // The very same list: nothing of it was read again on this connection.
  expect([again, await load(), await load()].some(one => one === first || one === again)).toBe(true)
})
