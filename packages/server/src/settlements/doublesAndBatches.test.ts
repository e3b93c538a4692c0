import pg from 'pg'
import { afterAll, expect, it } from 'vitest'
import {
  booksOf,
  csvOf,
  makeClientWithWeeks,
  type Row,
  testDatabase,
  testUrl,
  upload,
  type Weeks,
} from '../testing/madeClient.ts'
import { postSettlements } from './postSettlements.ts'
import { takeBack } from './takeBack.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

/** The same weeks under other ids, as a source hands them out that was connected twice. */
const underOtherIds = ({ lines, heads }: Weeks): Weeks => {
  const renamed = (row: Row): Row => ({
    ...row,
    settlement_id: `AGAIN-${row.settlement_id}`,
    ...(row.line_id ? { line_id: `again-${row.line_id}` } : {}),
  })
  return { lines: lines.map(renamed), heads: heads.map(renamed) }
}

const twice = async (name: string) => {
  const { actor, keys, weeks } = await makeClientWithWeeks(database, name, 4, 5)
  const again = underOtherIds(weeks)
  await upload(database, actor, csvOf(again.heads), 'settlements.csv')
  await upload(database, actor, csvOf(again.lines))
  return { actor, keys, doubles: keys.map(key => ({ ...key, key: `AGAIN-${key.key}` })) }
}

it('of settlements that look alike one is posted, in one request', async () => {
  const { actor, keys, doubles } = await twice('Alike in one request')
  const outcome = await postSettlements(database, actor, [...keys, ...doubles])
  expect(outcome.posted).toHaveLength(4)
  expect(outcome.notPosted.map(one => one.reason)).toEqual(['blocked', 'blocked', 'blocked', 'blocked'])
  expect(outcome.notPosted[0]).toMatchObject({ blocks: [{ reason: 'likely_double' }] })
  expect((await booksOf(database, actor)).states).toMatchObject({ posted: 4, blocked: 4 })
})

it('of settlements that look alike one is posted, in requests at the same time', async () => {
  const { actor, keys, doubles } = await twice('Alike at once')
  const outcomes = await Promise.all([...keys, ...doubles].map(key => postSettlements(database, actor, [key])))
  const posted = outcomes.flatMap(outcome => outcome.posted.map(key => key.key.replace('AGAIN-', '')))
  expect([...posted].sort()).toEqual(keys.map(key => key.key))
  expect((await booksOf(database, actor)).numbers?.count).toBe(8)
})

it('what is broken off in the midst of many says what was done, and goes on from there', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Broken off', 330, 1)
  const admin = new pg.Client({
    connectionString: Object.assign(new URL(process.env.DATABASE_URL ?? ''), { pathname: new URL(testUrl()).pathname })
      .href,
  })
  await admin.connect()
  // Fails whatever would make or take back an entry beyond the first 500, as a full disk would.
  const name = `breaks_off_${actor.clientId}`
  const breakAt = (condition: string) =>
    admin.query(`
      CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'no room' USING ERRCODE = 'disk_full'; END $$;
      CREATE TRIGGER ${name} BEFORE INSERT ON entry FOR EACH ROW WHEN (NEW.client_id = ${actor.clientId} AND ${condition}) EXECUTE FUNCTION ${name}()`)
  const mend = () => admin.query(`DROP TRIGGER ${name} ON entry; DROP FUNCTION ${name}()`)
  const states = async () => (await booksOf(database, actor)).states
  try {
    await breakAt('NEW.number > 500')
    const outcome = await postSettlements(database, actor, keys)
    expect(outcome.brokenOff?.left).toBe(330 - outcome.posted.length)
    expect(outcome.posted.length).toBeGreaterThan(0)
    expect(outcome.posted.length).toBeLessThan(330)
    expect(await states()).toEqual({ posted: outcome.posted.length, proposed: outcome.brokenOff?.left })
    // Where nothing at all was done the error says so.
    await expect(postSettlements(database, actor, keys.slice(outcome.posted.length))).rejects.toThrow()
    expect(await states()).toEqual({ posted: outcome.posted.length, proposed: outcome.brokenOff?.left })
    await mend()
    await postSettlements(database, actor, keys)
    expect(await states()).toEqual({ posted: 330 })
    await breakAt('NEW.number > 1100')
    const back = await takeBack(database, actor, keys)
    expect(back.takenBack.length).toBeGreaterThan(0)
    expect(back.brokenOff?.left).toBe(330 - back.takenBack.length)
    expect(await states()).toEqual({ posted: back.brokenOff?.left, proposed: back.takenBack.length })
    await mend()
    await takeBack(database, actor, keys)
    expect(await states()).toEqual({ proposed: 330 })
    const { numbers } = await booksOf(database, actor)
    expect(numbers?.count).toBe(numbers?.next)
  } finally {
    await admin.end()
  }
})
