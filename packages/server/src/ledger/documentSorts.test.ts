import { documentNames, documents } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { isDocument } from './documentSorts.ts'

const database = testDatabase(2)
afterAll(() => database.$client.end())

it('the database knows the documents of the core, and what each counts as', async () => {
  const actor = await makeClient(database, 'Documents')
  const rows = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      {
        document: is.oneOf(...documentNames),
        booksLines: is.yes,
        movesPayout: is.yes,
        mirrors: is.yes,
        opens: is.yes,
        fromBank: is.yes,
        mayRepeat: is.yes,
      },
      sql`SELECT document, books_lines AS "booksLines", moves_payout AS "movesPayout", mirrors, opens, from_bank AS "fromBank",
        may_repeat AS "mayRepeat" FROM document_sort`,
    ),
  )
  // What its own functions do not ask for is told by the statements.
  const told = documentNames.map(name => {
    const { decides, ...traits } = documents[name]
    return [name, traits]
  })
  expect(Object.fromEntries(rows.map(({ document, ...traits }) => [document, traits]))).toEqual(
    Object.fromEntries(told),
  )
  const deciding = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      { document: is.text },
      sql`SELECT e.document FROM (SELECT document FROM document_sort) e WHERE ${isDocument('decides')}`,
    ),
  )
  expect(deciding.map(row => row.document)).toEqual(documentNames.filter(name => documents[name].decides))
})
