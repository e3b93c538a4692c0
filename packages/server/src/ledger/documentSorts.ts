import { type DocumentTraits, documentNames, documents } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { traitColumns } from '../database/generated.ts'

/** Condition that the document of entry `e` is of those with a trait; what documents there are is said in the core. */
export const isDocument = (trait: keyof DocumentTraits): SQL => {
  const column = traitColumns[trait]
  return column === undefined
    ? sql`e.document IN (${sql.raw(documentsWith(trait))})`
    : sql`e.document IN (SELECT d.document FROM document_sort d WHERE d.${sql.raw(column)})`
}

const documentsWith = (trait: keyof DocumentTraits): string =>
  documentNames
    .filter(name => documents[name][trait])
    .map(name => `'${name}'`)
    .join(', ')
