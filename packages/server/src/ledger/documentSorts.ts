import type { DocumentTraits } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'

const columns: Record<keyof DocumentTraits, string> = {
  booksLines: 'books_lines',
  movesPayout: 'moves_payout',
  mirrors: 'mirrors',
  opens: 'opens',
  fromBank: 'from_bank',
  mayRepeat: 'may_repeat',
}

/** Condition that the document of entry `e` is of those with a trait; what documents there are is said in the core. */
export const isDocument = (trait: keyof DocumentTraits): SQL =>
  sql`e.document IN (SELECT d.document FROM document_sort d WHERE d.${sql.raw(columns[trait])})`
