import { Readable } from 'node:stream'
import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { uploadStatement } from './uploadStatement.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const head = `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt><Acct><Id><IBAN>IE00TEST</IBAN></Id><Ccy>EUR</Ccy></Acct>`
const tail = '</Stmt></BkToCstmrStmt></Document>'
const entry = (id: number, more = ''): string =>
  `<Ntry><Amt Ccy="EUR">1.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-03-02</Dt></BookgDt><AcctSvcrRef>N${id}</AcctSvcrRef>${more}</Ntry>`

it('elements nested without end are refused with the limit, whatever their number', async () => {
  const actor = await makeClient(database, 'Nested')
  const deep = (levels: number) => `${head}${entry(1, `${'<X>'.repeat(levels)}${'</X>'.repeat(levels)}`)}${tail}`
  for (const levels of [100, 130_000])
    await expect(
      uploadStatement(database, actor, { name: 'deep.xml', body: Readable.from([Buffer.from(deep(levels))]) }),
    ).rejects.toMatchObject({
      name: 'FileRefused',
      faults: expect.arrayContaining([expect.objectContaining({ code: 'too_deep' })]),
    })
  const count = await asClient(database, actor, tx => rowsOf(tx, {}, sql`SELECT count(*)::int AS count FROM bank_line`))
  expect(count).toEqual([{ count: 0 }])
})

it('a large statement is read as it comes', async () => {
  const actor = await makeClient(database, 'Large statement')
  // Some 60 MB, most of it text that no bank line keeps.
  const entries = 6000
  const filler = `<AddtlNtryInf>${'lorem ipsum '.repeat(800)}</AddtlNtryInf>`
  const parts = function* () {
    yield Buffer.from(head)
    for (let id = 0; id < entries; id++) yield Buffer.from(entry(id, filler))
    yield Buffer.from(tail)
  }
  const outcome = await uploadStatement(database, actor, { name: 'large.xml', body: Readable.from(parts()) })
  expect(outcome).toMatchObject({ added: entries })
  // And the planner knows at once that the table is no empty one.
  const { rows } = await database.execute(
    sql`SELECT reltuples >= ${entries} AS known FROM pg_class WHERE oid = 'bank_line'::regclass`,
  )
  expect(rows).toEqual([{ known: true }])
})
