import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { loadSession } from '../access/loadSession.ts'
import { checkPracticeSeals } from '../acts/practiceActs.ts'
import { asClient, asPerson, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { makeClient, makeClientWithWeeks, settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { archiveClient, removeClient } from './archive.ts'
import { createClient } from './createClient.ts'
import { loadSettings, saveSettings } from './settings.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const settingsOf = (actor: { userId: number; clientId: number }) => asClient(database, actor, loadSettings)

describe('what a client is', () => {
  it('is changed as a version of the setup, and says who changed what', async () => {
    const actor = await makeClient(database, 'Renamed')
    const { version, client } = await settingsOf(actor)
    const saved = await saveSettings(database, actor, {
      version,
      client: { ...client, name: 'Named anew', country: 'IE' },
    })
    expect(await settingsOf(actor)).toMatchObject({ version: saved, client: { name: 'Named anew', country: 'IE' } })
    await expect(saveSettings(database, actor, { version, client })).rejects.toMatchObject({ code: 'saved_meanwhile' })
    const [act] = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { after: is.anything },
        sql`SELECT o.after FROM act JOIN act_object o USING (client_id, act_id) WHERE sort = 'save_client'`,
      ),
    )
    expect(act?.after).toMatchObject({ name: 'Named anew' })
  })

  it('keeps the days of its lines and the numbers of its entries', async () => {
    const { actor } = await makeClientWithWeeks(database, 'With days', 2, 5)
    const { version, client } = await settingsOf(actor)
    const save = (change: Partial<typeof client>) =>
      saveSettings(database, actor, { version, client: { ...client, ...change } })
    await expect(save({ cutOff: '04:30' })).rejects.toMatchObject({ code: 'fixed_once_brought' })
    await expect(save({ timeZone: 'Europe/Berlin' })).rejects.toMatchObject({ code: 'fixed_once_brought' })
    await expect(save({ timeZone: 'Nowhere/Else' })).rejects.toMatchObject({ code: 'zone_unknown' })
    await expect(save({ exchangeRounding: '9999' })).rejects.toMatchObject({ code: 'account_unusable' })
    expect((await settingsOf(actor)).client).toEqual(client)
    await postSettlements(database, actor, await settlementKeys(database, actor))
    await expect(save({ fiscalStart: 4 })).rejects.toMatchObject({ code: 'fixed_once_numbered' })
    await expect(save({ firstNumber: 7 })).rejects.toMatchObject({ code: 'fixed_once_numbered' })
  })

  it('numbers its entries from where a year was begun elsewhere', async () => {
    const { actor } = await makeClientWithWeeks(database, 'From 501', 1, 5)
    const { version, client } = await settingsOf(actor)
    await saveSettings(database, actor, { version, client: { ...client, firstNumber: 501 } })
    await postSettlements(database, actor, await settlementKeys(database, actor))
    const numbers = await asClient(database, actor, tx =>
      rowsOf(tx, { number: is.whole }, sql`SELECT number FROM entry ORDER BY number`),
    )
    expect(numbers[0]).toEqual({ number: 501 })
    expect(numbers.map(one => one.number)).toEqual(numbers.map((_, at) => 501 + at))
  })
})

describe('an archived client', () => {
  it('takes no entries, files or saves, in the database too, and is taken up again', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Put away', 1, 5)
    await archiveClient(database, actor, true)
    await expect(postSettlements(database, actor, await settlementKeys(database, actor))).rejects.toThrow()
    await expect(
      asClient(database, actor, tx =>
        tx.execute(
          sql`INSERT INTO job (client_id, job_id, sort, subject, state, "by") VALUES (current_client(), 'j', 'pull', 'openhall', 'waiting', ${actor.userId})`,
        ),
      ),
    ).rejects.toThrow()
    const session = await asPerson(database, actor.userId, tx => loadSession(tx, actor.userId))
    expect(session.clients.find(one => one.clientId === actor.clientId)?.archivedAt).not.toBeNull()
    await archiveClient(database, actor, false)
    const posted = await postSettlements(database, actor, await settlementKeys(database, actor))
    expect(posted.posted).toHaveLength(1)
  })
})

describe('a client taken on by mistake', () => {
  const rowsLeft = (clientId: number) =>
    asPerson(database, 0, tx =>
      oneRow(
        tx,
        { count: is.whole },
        sql`SELECT (SELECT count(*) FROM client WHERE client_id = ${clientId})::int + (SELECT count(*) FROM membership WHERE client_id = ${clientId})::int AS count`,
      ),
    )

  it('is removed with all that it has, and the practice’s acts say so', async () => {
    const { actor } = await makeClientWithWeeks(database, 'By mistake', 2, 8)
    await expect(removeClient(database, actor, 'by mistake')).rejects.toMatchObject({ code: 'name_differs' })
    await removeClient(database, actor, 'By mistake')
    expect(await rowsLeft(actor.clientId)).toEqual({ count: 0 })
    const [act] = await asPerson(database, actor.userId, tx =>
      rowsOf(
        tx,
        { note: is.text },
        sql`SELECT note FROM practice_act WHERE sort = 'remove_client' ORDER BY seq DESC LIMIT 1`,
      ),
    )
    expect(act).toEqual({ note: 'By mistake' })
    const { id } = await asPerson(database, actor.userId, tx =>
      oneRow(tx, { id: is.whole }, sql`SELECT practice_id AS id FROM practice LIMIT 1`),
    )
    expect((await asPerson(database, actor.userId, tx => checkPracticeSeals(tx, id))).faults).toEqual([])
  })

  it('stays where anything was posted', async () => {
    const { actor } = await makeClientWithWeeks(database, 'With entries', 1, 5)
    await postSettlements(database, actor, await settlementKeys(database, actor))
    await expect(removeClient(database, actor, 'With entries')).rejects.toMatchObject({ code: 'client_has_entries' })
    expect((await settingsOf(actor)).client.name).toBe('With entries')
  })

  it('takes nothing of another client along', async () => {
    const { actor: kept } = await makeClientWithWeeks(database, 'Beside it', 1, 5)
    const before = await settingsOf(kept)
    const { actor } = await makeClientWithWeeks(database, 'Goes', 1, 5)
    await removeClient(database, actor, 'Goes')
    expect(await settingsOf(kept)).toEqual(before)
  })
})

it('facts that cannot be are refused', async () => {
  const actor = await makeClient(database, 'Facts')
  const take = (facts: object) =>
    createClient(database, actor.userId, { name: 'X', base: 'EUR', timeZone: 'Europe/Dublin', ...facts })
  await expect(take({ base: 'XXY' })).rejects.toMatchObject({ code: 'currency_unknown' })
  await expect(take({ timeZone: 'Nowhere' })).rejects.toMatchObject({ code: 'zone_unknown' })
  await expect(take({ fiscalStart: 13 })).rejects.toThrow()
  await expect(take({ name: ' ' })).rejects.toThrow()
})
