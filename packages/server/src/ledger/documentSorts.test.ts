import { documentNames, documents } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'

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
  expect(Object.fromEntries(rows.map(({ document, ...traits }) => [document, traits]))).toEqual(documents)
})
