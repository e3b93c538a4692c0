import { Readable } from 'node:stream'
import type { SavedColumns } from '@culvert/contract'
import { proposeChoice } from '@culvert/core'
import { afterAll, expect, it } from 'vitest'
import { importBalances } from '../activity/importBalances.ts'
import { loadProofPage } from '../clearing/loadClearing.ts'
import { unclosedNow } from '../clearing/loadProof.ts'
import { type Actor, asClient } from '../database/connect.ts'
import { saveColumns } from '../files/columns.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { makeClient, settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { loadPulls } from './loadSources.ts'
import { loadAside, sayOfAside } from './rowsAside.ts'
import { takeImportBack } from './takeImportBack.ts'
import { uploadFile } from './uploadFile.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const header = ['Date', 'Order', 'Type', 'Amount', 'Currency', 'Buyer']
const good = [
  ['2026-03-02', 'A-1', 'Sale', '12.30', 'EUR', 'Odile Fairweather'],
  ['2026-03-03', 'A-2', 'Sale', '4.00', 'EUR', ''],
]
const bad = ['2026-03-03', 'A-3', 'Sale', 'twelve', 'EUR', 'A. Marchbank']
const total = ['', '', 'Total', 'see above', 'EUR', '']
const said = (): SavedColumns => {
  const { choice } = proposeChoice(header, good, { shape: 'combined', timeZone: 'Europe/Dublin' })
  return { of: 'activity', choice: { ...choice, kinds: { Sale: 'sale' } }, encoding: null, sheet: null }
}
const bring = (actor: Actor, rows: readonly (readonly string[])[], aside?: string) =>
  uploadFile(database, actor, {
    source: 'openhall',
    name: 'march.csv',
    body: Readable.from([Buffer.from([header, ...rows].map(row => row.join(',')).join('\n'))]),
    told: aside === undefined ? {} : { aside },
  })
const made = async (name: string): Promise<Actor> => {
  const actor = await makeClient(database, name)
  await saveColumns(database, actor, { subject: 'source', key: 'openhall', header, said: said() })
  return actor
}
const asideOf = (actor: Actor) => asClient(database, actor, tx => loadAside(tx, 'openhall'))
const proofOf = (actor: Actor, date: string) =>
  asClient(database, actor, tx => loadProofPage(tx, '1210', { date, currency: null }))

it('sets aside what cannot be read, keeps it, and closes no account over it', async () => {
  const actor = await made('Rows aside')
  await expect(bring(actor, [...good, bad, total])).rejects.toMatchObject({
    faults: [{ row: 4 }, { row: 5 }, { row: 5 }],
  })
  expect(await bring(actor, [...good, bad, total], '4:unread,5:nothing')).toMatchObject({ added: 2, aside: 2 })
  // Nobody is named in what is kept of it.
  expect(await asideOf(actor)).toMatchObject([
    { file: 'march.csv', row: 4, day: '2026-03-03', why: 'unread', fields: { Order: 'A-3', Amount: 'twelve' } },
    { row: 5, day: null, why: 'nothing', fields: { Type: 'Total' } },
  ])
  expect(JSON.stringify(await asideOf(actor))).not.toContain('Marchbank')
  await asClient(database, actor, tx =>
    importBalances(tx, 'openhall', [
      { currency: 'EUR', date: '2026-03-02', available: 1230, pending: 0, reserve: 0 },
      { currency: 'EUR', date: '2026-03-05', available: 1630, pending: 0, reserve: 0 },
    ]),
  )
  await postSettlements(database, actor, await settlementKeys(database, actor))
  expect(await proofOf(actor, '2026-03-02')).toMatchObject({ outcome: 'closed', rowsAside: [] })
  expect(await proofOf(actor, '2026-03-05')).toMatchObject({
    outcome: 'explained',
    unexplained: 0,
    rowsAside: [{ name: 'row 4 of march.csv', date: '2026-03-03' }],
  })
  expect(await asClient(database, actor, unclosedNow)).toMatchObject([{ outcome: 'explained' }])
  const [row] = await asideOf(actor)
  const say = (why: 'nothing' | 'unread') =>
    sayOfAside(database, actor, { source: 'openhall', jobId: row?.jobId ?? '', row: 4, why })
  await say('nothing')
  expect(await proofOf(actor, '2026-03-05')).toMatchObject({ outcome: 'closed', rowsAside: [] })
  await say('unread')
  expect(await proofOf(actor, '2026-03-05')).toMatchObject({ outcome: 'explained' })
  await expect(
    sayOfAside(database, actor, { source: 'openhall', jobId: row?.jobId ?? '', row: 99, why: 'nothing' }),
  ).rejects.toMatchObject({ code: 'not_found' })
})

it('loses no row that can be read, whatever number was said', async () => {
  const actor = await made('Rows that read')
  await expect(bring(actor, [...good, bad], '3:unread,4:unread')).rejects.toMatchObject({
    faults: [{ row: 3, code: 'row_reads' }],
  })
  expect(await asideOf(actor)).toEqual([])
})

it('goes with its file as that is taken back', async () => {
  const actor = await made('Rows taken back')
  await bring(actor, [...good, bad], '4:unread')
  const [pull] = await asClient(database, actor, tx => loadPulls(tx, 'openhall'))
  await takeImportBack(database, actor, { source: 'openhall', jobId: pull?.jobId ?? '' })
  expect(await asideOf(actor)).toEqual([])
  expect((await proofOf(actor, '2026-03-05'))?.rowsAside).toEqual([])
})
