import { Readable } from 'node:stream'
import { text } from 'node:stream/consumers'
import { addDays, type DateBasis, defaultOptions } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { holdSettlements, type SettlementKey } from '../activity/settlementKey.ts'
import { confirmManyCertain } from '../bank/confirmMany.ts'
import { propose } from '../bank/proposals.ts'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { saveOrCount } from '../sources/countMany.ts'
import { loadOptions } from '../sources/sourceOptions.ts'
import { uploadKept } from '../sources/uploadFile.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import {
  booksOf,
  csvOf,
  importBankRows,
  madeRoute,
  makeClient,
  makeClientWithWeeks,
  makeWeeks,
  testDatabase,
  testUrl,
} from '../testing/madeClient.ts'
import { works } from '../work.ts'
import { type Jobs, startJobs } from './boss.ts'
import { beginJob, JobCancelled } from './jobLog.ts'
import { keepFile, readKept } from './keptFile.ts'
import { loadJob } from './loadJobs.ts'
import { type JobWork, runJob } from './runJob.ts'

const database = testDatabase(12)
afterAll(() => database.$client.end())

const begin = (actor: Actor, job: Parameters<typeof beginJob>[3]) =>
  asClient(database, actor, tx => beginJob(tx, actor, 'waiting', job))
const reported: unknown[] = []
const run = (actor: Actor, jobId: string, work: Partial<Record<string, JobWork>> = works) =>
  runJob(database, { ...actor, jobId }, work, error => reported.push(error))
const stateOf = async (actor: Actor, jobId: string) => {
  const job = await asClient(database, actor, tx => loadJob(tx, jobId))
  if (!job) throw new Error('no such job')
  return job
}
const ask = (actor: Actor, jobId: string) =>
  asClient(database, actor, tx => tx.execute(sql`UPDATE job SET state = 'cancelling' WHERE job_id = ${jobId}`))
/** Holds settlements, as another writer would, until it is let go. */
const heldBySomebody = (actor: Actor, keys: readonly SettlementKey[]) => {
  let release = (): void => undefined
  let begin = (): void => undefined
  const released = new Promise<void>(resolve => {
    release = resolve
  })
  const begun = new Promise<void>(resolve => {
    begin = resolve
  })
  const over = asClient(database, actor, async tx => {
    await holdSettlements(tx, keys)
    begin()
    await released
  })
  return {
    begun,
    letGo: () => {
      release()
      return over
    },
  }
}
const leftParts = (actor: Actor) =>
  asClient(database, actor, tx =>
    oneRow(tx, { parts: is.whole }, sql`SELECT count(*)::int AS parts FROM received_part`),
  )
const whole = async (actor: Actor): Promise<void> => {
  expect(await brokenInvariants(database, actor)).toEqual([])
}

describe('posting many', () => {
  it('goes on after a break from where it was, and tells of all that it has posted', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Broken off between batches', 450, 1)
    const jobId = await begin(actor, { sort: 'post', subject: '', asked: { keys }, total: keys.length })
    // The database goes after the second batch has begun to be told of: that batch is undone.
    let notes = 0
    const breaking: JobWork = (on, who, job) => {
      const { keys: asked } = job.asked as { keys: typeof keys }
      return postSettlements(on, who, asked, {
        start: 0,
        outcome: null,
        note: async (tx, done, outcome) => {
          if (++notes === 2) throw Object.assign(new Error('Connection terminated'), { code: 'ECONNRESET' })
          await tx.execute(
            sql`UPDATE job SET done = ${done}, outcome = ${JSON.stringify(outcome)}::jsonb WHERE job_id = ${jobId}`,
          )
        },
      })
    }
    await expect(run(actor, jobId, { post: breaking })).rejects.toThrow('Connection terminated')
    expect(await stateOf(actor, jobId)).toMatchObject({ state: 'running', done: 200 })
    expect((await booksOf(database, actor)).states).toEqual({ posted: 200, proposed: 250 })
    await run(actor, jobId)
    const over = await stateOf(actor, jobId)
    expect(over).toMatchObject({ state: 'done', done: 450, total: 450 })
    const outcome = over.outcome as Awaited<ReturnType<typeof postSettlements>>
    expect(outcome.posted.map(key => key.key).sort()).toEqual(keys.map(key => key.key).sort())
    expect(outcome).toMatchObject({ entries: 900, notPosted: [], brokenOff: null })
    expect((await booksOf(database, actor)).states).toEqual({ posted: 450 })
    // Once over, it is over: whoever takes it up again does nothing.
    await run(actor, jobId)
    expect((await booksOf(database, actor)).numbers?.count).toBe(900)
    await whole(actor)
  })

  it('is stopped between batches: what is posted stays, the batch under way is undone', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Stopped between batches', 450, 1)
    const jobId = await begin(actor, { sort: 'post', subject: '', asked: { keys }, total: keys.length })
    // The last batch waits for somebody who holds one of its settlements, so that it is asked in the midst however slow this machine is.
    const held = heldBySomebody(actor, keys.slice(-1))
    await held.begun
    const posting = run(actor, jobId)
    await expect
      .poll(async () => (await stateOf(actor, jobId)).done, { timeout: 20_000, interval: 5 })
      .toBeGreaterThan(0)
    await ask(actor, jobId)
    await held.letGo()
    await posting
    const over = await stateOf(actor, jobId)
    const { posted = 0 } = (await booksOf(database, actor)).states
    expect(over.state).toBe('cancelled')
    expect(posted % 200).toBe(0)
    expect((over.outcome as { posted: unknown[] }).posted).toHaveLength(posted)
    expect(posted).toBeLessThan(450)
    // Taken back as a job, all of it.
    const back = await begin(actor, { sort: 'take_back', subject: '', asked: { keys }, total: keys.length })
    await run(actor, back)
    expect((await stateOf(actor, back)).outcome).toMatchObject({ entries: 2 * posted })
    expect((await booksOf(database, actor)).states).toEqual({ proposed: 450 })
    await whole(actor)
  })

  it('asked to stop before anybody took it up, it does nothing', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Stopped at once', 3, 1)
    const jobId = await begin(actor, { sort: 'post', subject: '', asked: { keys } })
    await ask(actor, jobId)
    await run(actor, jobId)
    expect(await stateOf(actor, jobId)).toMatchObject({ state: 'cancelled', outcome: null })
    expect((await booksOf(database, actor)).states).toEqual({ proposed: 3 })
  })
})

describe('a kept file', () => {
  const keep = (actor: Actor, body: string, sort: 'upload' | 'statement' = 'upload') =>
    asClient(database, actor, async tx => {
      const jobId = await beginJob(tx, actor, 'waiting', {
        sort,
        subject: sort === 'upload' ? 'openhall' : 'bank',
        message: 'activity.csv',
        asked: {},
        total: body.length,
      })
      await keepFile(tx, jobId, Readable.from([Buffer.from(body)]))
      return jobId
    })
  const lines = (actor: Actor) =>
    asClient(database, actor, tx =>
      oneRow(tx, { lines: is.whole }, sql`SELECT count(*)::int AS lines FROM activity_line`),
    )

  it('is what came, byte for byte, in however many parts', async () => {
    const actor = await makeClient(database, 'Kept')
    const body = Array.from({ length: 400_000 }, (_, index) => `${(index * 2654435761) % 4294967296}`).join(',')
    const jobId = await keep(actor, body)
    expect((await leftParts(actor)).parts).toBeGreaterThan(1)
    expect(await text(readKept(database, actor, jobId))).toBe(body)
  })

  it('is read whole once, however often its worker goes, and is gone afterwards', async () => {
    const actor = await makeClient(database, 'Read by a job')
    const weeks = makeWeeks(30, 20)
    const jobId = await keep(actor, csvOf(weeks.lines))
    let tries = 0
    const breaking: JobWork = async (on, who, job) => {
      tries++
      if (tries > 1) return uploadKept(on, who, job)
      // Goes after the file is stored, before what rests on it is settled.
      await uploadKept(on, who, job)
      throw Object.assign(new Error('Connection terminated'), { code: 'ECONNRESET' })
    }
    await expect(run(actor, jobId, { upload: breaking })).rejects.toThrow('Connection terminated')
    await run(actor, jobId, { upload: breaking })
    expect(await stateOf(actor, jobId)).toMatchObject({
      state: 'done',
      outcome: { sort: 'activity', added: weeks.lines.length, revised: 0, same: 0 },
    })
    expect(await lines(actor)).toEqual({ lines: weeks.lines.length })
    expect(await leftParts(actor)).toEqual({ parts: 0 })
    await whole(actor)
  })

  it('that is refused says where, and leaves nothing', async () => {
    const actor = await makeClient(database, 'Refused as a job')
    const weeks = makeWeeks(3, 4)
    const broken = weeks.lines.map((line, index) => (index === 7 ? { ...line, amount: '12.555' } : line))
    const jobId = await keep(actor, csvOf(broken))
    await run(actor, jobId)
    expect(await stateOf(actor, jobId)).toMatchObject({
      state: 'failed',
      outcome: null,
      refusal: { faults: [{ row: 9, column: 'amount' }] },
    })
    expect(await lines(actor)).toEqual({ lines: 0 })
    expect(await leftParts(actor)).toEqual({ parts: 0 })
    expect(reported, 'what was asked for is no fault of the server').toEqual([])
  })

  it('is stopped while it is read, and nothing of it is stored', async () => {
    const actor = await makeClient(database, 'Stopped while reading')
    const jobId = await keep(actor, csvOf(makeWeeks(200, 200).lines))
    const reading = run(actor, jobId)
    await expect.poll(async () => (await stateOf(actor, jobId)).state).toBe('running')
    await ask(actor, jobId)
    await reading
    expect(await stateOf(actor, jobId)).toMatchObject({ state: 'cancelled', outcome: null })
    expect(await lines(actor)).toEqual({ lines: 0 })
    expect(await leftParts(actor)).toEqual({ parts: 0 })
  })

  it('is gone when its job is stopped before anybody took it up', async () => {
    const actor = await makeClient(database, 'Stopped before it was read')
    const jobId = await keep(actor, csvOf(makeWeeks(2, 2).lines))
    await ask(actor, jobId)
    await run(actor, jobId)
    expect(await stateOf(actor, jobId)).toMatchObject({ state: 'cancelled', outcome: null })
    expect(await leftParts(actor)).toEqual({ parts: 0 })
  })

  it('of bank lines comes in the same way', async () => {
    const actor = await makeClient(database, 'Statement as a job')
    const jobId = await keep(
      actor,
      'line_id,date,bank_account,amount,currency,description\nB1,2026-01-05,1000,10.00,EUR,X\n',
      'statement',
    )
    await run(actor, jobId)
    expect(await stateOf(actor, jobId)).toMatchObject({
      state: 'done',
      outcome: { added: 1, same: 0, accounts: ['1000'] },
    })
  })
})

describe('confirming many', () => {
  const deposited = async (name: string, count: number) => {
    const made = await makeClientWithWeeks(database, name, count, 2)
    await postSettlements(database, made.actor, made.keys)
    const payouts = await asClient(database, made.actor, tx =>
      rowsOf(tx, { date: is.date, amount: is.minor }, sql`SELECT date::text, amount FROM transfer ORDER BY date`),
    )
    await importBankRows(database, made.actor, [
      ...payouts.map(({ date, amount }, index) => ({
        line_id: `B${index}`,
        date: addDays(date, 2),
        bank_account: '1000',
        amount: (amount / 100).toFixed(2),
        currency: 'EUR',
        description: `OPENHALL SETTL ${index}`,
      })),
      {
        line_id: 'LATE',
        date: '2026-12-31',
        bank_account: '1000',
        amount: '-1.00',
        currency: 'EUR',
        description: 'END',
      },
    ])
    return made.actor
  }
  const open = (actor: Actor) =>
    asClient(database, actor, tx =>
      oneRow(tx, { open: is.whole }, sql`SELECT count(*)::int AS open FROM open_bank_line`),
    )

  it('confirms what is certain, all or nothing, and once', async () => {
    const actor = await deposited('Confirmed as a job', 12)
    const certain = (await propose(database, actor, '1000')).proposals.filter(row => row.sureness === 'certain').length
    const { open: before } = await open(actor)
    expect(certain).toBeGreaterThan(3)
    const stopped = await begin(actor, { sort: 'confirm_certain', subject: '1000', asked: { account: '1000' } })
    // Asked to stop while it is at work: seen when it is told of, and undone.
    const stopping: JobWork = async (on, who, job) => {
      await ask(actor, stopped)
      return confirmManyCertain(on, who, job)
    }
    await run(actor, stopped, { confirm_certain: stopping })
    expect(await stateOf(actor, stopped)).toMatchObject({ state: 'cancelled', outcome: null })
    expect(await open(actor)).toEqual({ open: before })
    const jobId = await begin(actor, { sort: 'confirm_certain', subject: '1000', asked: { account: '1000' } })
    await run(actor, jobId)
    expect(await stateOf(actor, jobId)).toMatchObject({
      state: 'done',
      outcome: { confirmed: certain, entries: 0, refused: [] },
    })
    expect(await open(actor)).toEqual({ open: before - certain })
    await whole(actor)
  })

  it('is worked out anew when anything else is open by the time it is held', async () => {
    const actor = await deposited('Moved meanwhile', 6)
    const before = await propose(database, actor, '1000')
    // The like of what was certain comes in: neither deposit is certain any more.
    const twin = before.proposals.find(row => row.sureness === 'certain')?.bankLines[0]
    if (!twin) throw new Error('nothing is certain')
    const groups = before.proposals.map(row => ({
      transfers: row.transfers.map(one => one.id),
      bankLines: row.bankLines.map(one => one.id),
    }))
    await importBankRows(database, actor, [
      {
        line_id: 'TWIN',
        date: twin.date,
        bank_account: '1000',
        amount: (twin.amount / 100).toFixed(2),
        currency: 'EUR',
        description: twin.description,
      },
    ])
    const jobId = await begin(actor, { sort: 'confirm', subject: '1000', asked: { account: '1000', groups } })
    await run(actor, jobId)
    const kept = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { sureness: is.text },
        sql`SELECT p.sureness FROM pairing p JOIN paired_bank_line b USING (client_id, pairing_id) WHERE b.line_id = ${twin.id}`,
      ),
    )
    expect(kept).toHaveLength(1)
    expect(kept[0]?.sureness).not.toBe('certain')
  })
})

let jobs: Jobs
beforeAll(async () => {
  jobs = await startJobs(testUrl(), database, () => undefined)
})
afterAll(() => jobs.stop())

describe('counting by another moment', () => {
  const optionsBy = (dateBasis: DateBasis) => ({ ...defaultOptions, detail: [], dateBasis })
  const told = (actor: Actor) =>
    asClient(database, actor, async tx => ({
      ...(await oneRow(
        tx,
        { waiting: is.whole },
        sql`SELECT count(*)::int AS waiting FROM line_as_of WHERE stands AND status = 'pending'`,
      )),
      ...(await loadOptions(tx, 'openhall')),
    }))
  const asked = async (actor: Actor) => {
    const answer = await saveOrCount(database, jobs, actor, {
      source: 'openhall',
      options: optionsBy('payment'),
      madeFrom: (await told(actor)).version,
    })
    if (!('job' in answer)) throw new Error('it was done at once')
    return answer.job
  }

  it('is a job where the lines are many, done once however often its worker goes', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Many to count', 3, 4)
    await asClient(database, actor, tx => tx.execute(sql`UPDATE settlement SET lines = 40000`))
    const { version } = await told(actor)
    const jobId = await asked(actor)
    const stopping: JobWork = (on, who, job) =>
      works.count(on, who, { ...job, signal: AbortSignal.abort(new JobCancelled('cancelled')) })
    await run(actor, jobId, { count: stopping })
    expect(await stateOf(actor, jobId)).toMatchObject({ state: 'cancelled', outcome: null })
    expect(await told(actor)).toMatchObject({ waiting: 0, version, options: { dateBasis: 'order' } })

    const again = await asked(actor)
    await run(actor, again)
    const over = await stateOf(actor, again)
    const { waiting } = await told(actor)
    expect(waiting).toBeGreaterThan(10)
    expect(over).toMatchObject({ state: 'done', outcome: { version: version + 1, counted: waiting } })
    // Its worker went after all was saved, and before it could say so.
    await asClient(database, actor, tx => tx.execute(sql`UPDATE job SET state = 'running' WHERE job_id = ${again}`))
    await run(actor, again)
    expect(await stateOf(actor, again)).toMatchObject({ state: 'done', outcome: over.outcome })
    expect((await told(actor)).version).toBe(version + 1)
    await whole(actor)
  })

  it('is refused where somebody saves before it is taken up', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Saved before it was counted', 1, 4)
    await asClient(database, actor, tx => tx.execute(sql`UPDATE settlement SET lines = 40000`))
    const jobId = await asked(actor)
    await saveRoutes(database, actor, { changed: [madeRoute('tip', { account: '4000' })], removed: [] })
    await run(actor, jobId)
    expect(await stateOf(actor, jobId)).toMatchObject({ state: 'failed', refusal: { code: 'saved_meanwhile' } })
    expect(await told(actor)).toMatchObject({ waiting: 0, options: { dateBasis: 'order' } })
  })

  it('of few lines is done before the save answers', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Few to count', 1, 4)
    const { version } = await told(actor)
    expect(
      await saveOrCount(database, jobs, actor, {
        source: 'openhall',
        options: optionsBy('payment'),
        madeFrom: version,
      }),
    ).toMatchObject({ version: version + 1 })
  })
})

describe('composing anew', () => {
  it('is left to a job where it is much, once for all who save before it begins', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Much to compose', 5, 2)
    await asClient(database, actor, tx => tx.execute(sql`UPDATE settlement SET lines = 40000`))
    const save = (kind: 'tip' | 'surcharge' | 'discount') =>
      saveRoutes(database, actor, { changed: [madeRoute(kind, { account: '4000' })], removed: [] })
    await save('tip')
    const outdated = () =>
      asClient(database, actor, tx =>
        oneRow(
          tx,
          { outdated: is.whole },
          sql`SELECT count(*)::int AS outdated FROM settlement s JOIN client c USING (client_id) WHERE s.map_version <> c.setup_version`,
        ),
      )
    expect(await outdated()).toEqual({ outdated: 5 })
    const waiting = () =>
      asClient(database, actor, tx =>
        rowsOf(tx, { id: is.text }, sql`SELECT job_id AS id FROM job WHERE sort = 'compose' AND state = 'waiting'`),
      )
    await save('surcharge')
    const [job, ...more] = await waiting()
    expect(more).toEqual([])
    await run(actor, job?.id ?? '')
    expect(await stateOf(actor, job?.id ?? '')).toMatchObject({ state: 'done', done: 5, total: 5 })
    expect(await outdated()).toEqual({ outdated: 0 })
    await whole(actor)
    // Little is composed before the save answers.
    await save('discount')
    expect(await outdated()).toEqual({ outdated: 0 })
    expect(await waiting()).toEqual([])
  })
})
