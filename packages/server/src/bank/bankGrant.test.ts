import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { beginJob } from '../jobs/jobLog.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { saveGrant } from './bankGrant.ts'
import { pullBank } from './pullBank.ts'

const database = testDatabase(4)
const number = 'IE00TEST'
/** A bank that hands an account's lines to whoever holds the key of its owner. */
const owners: Record<string, string> = { 'key-of-kiln-lane': number }
const asked: string[] = []
const bank = createServer((request, response) => {
  const body: Buffer[] = []
  request.on('data', chunk => body.push(chunk))
  request.on('end', () => {
    response.setHeader('content-type', 'application/json')
    if (request.url?.endsWith('/token')) {
      const { key } = JSON.parse(Buffer.concat(body).toString()) as { key: string }
      asked.push(key)
      response.statusCode = owners[key] ? 200 : 403
      response.end(JSON.stringify(owners[key] ? { token: key, expires_in: 3600 } : { error: 'unknown key' }))
      return
    }
    const key = request.headers.authorization?.replace('Bearer ', '') ?? ''
    response.statusCode = owners[key] && request.url?.includes(number) ? 200 : 404
    response.end(
      JSON.stringify({
        lines: [
          {
            line_id: 'B1',
            date: '2026-03-02',
            bank_account: number,
            amount: '10.00',
            currency: 'EUR',
            description: 'X',
            reference: '',
          },
        ],
        next: null,
        cursor: '1',
        remaining: 0,
      }),
    )
  })
})
let address = ''
beforeAll(async () => {
  await new Promise<void>(resolve => bank.listen(0, '127.0.0.1', resolve))
  address = `http://127.0.0.1:${(bank.address() as AddressInfo).port}`
})
afterAll(async () => {
  bank.close()
  await database.$client.end()
})

/** Pulls as the job does. @returns how the pull's row ends */
const pulled = async (actor: Actor): Promise<{ state: string; message: string; added: number }> => {
  const jobId = await asClient(database, actor, tx =>
    beginJob(tx, actor, 'waiting', { sort: 'bank_pull', subject: '1000' }),
  )
  await pullBank(database, { ...actor, jobId })
  return asClient(database, actor, tx =>
    oneRow(
      tx,
      { state: is.text, message: is.text, added: is.whole },
      sql`SELECT state, message, added FROM job WHERE job_id = ${jobId}`,
    ),
  )
}

it('a bank is asked with what it granted this client, and never with another’s', async () => {
  const owner = await makeClient(database, 'Bank’s owner')
  const stranger = await makeClient(database, 'Types the number of another')
  await saveGrant(database, owner, '1000', { address, credentials: { key: 'key-of-kiln-lane', secret: 's' } })
  // The stranger's account has the same number; nothing was granted to it.
  expect(await pulled(stranger)).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('connect the account anew'),
  })
  expect(asked).toEqual([])
  await saveGrant(database, stranger, '1000', { address, credentials: { key: 'made-up', secret: 's' } })
  expect(await pulled(stranger)).toMatchObject({ state: 'failed', message: 'the bank refused the access: 403' })
  const lines = (actor: Actor) => asClient(database, actor, tx => rowsOf(tx, {}, sql`SELECT line_id FROM bank_line`))
  expect(await lines(stranger)).toEqual([])
  expect(await pulled(owner)).toMatchObject({ state: 'done', added: 1 })
  expect(await lines(owner)).toEqual([{ line_id: 'B1' }])
  expect(await lines(stranger)).toEqual([])
  expect(asked).toEqual(['made-up', 'key-of-kiln-lane'])
})
