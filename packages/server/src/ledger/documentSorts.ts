import type { DocumentTraits } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { traitColumns } from '../database/generated.ts'

/** Condition that the document of entry `e` is of those with a trait; what documents there are is said in the core. */
export const isDocument = (trait: keyof DocumentTraits): SQL =>
  sql`e.document IN (SELECT d.document FROM document_sort d WHERE d.${sql.raw(traitColumns[trait])})`
