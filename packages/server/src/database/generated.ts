import { rightsOfRole, roles } from '@culvert/contract'
import { type DocumentTraits, documentNames, documents, kindTraitNames } from '@culvert/core'
import type pg from 'pg'
import { kindsOf } from './kinds.ts'

interface GeneratedFunction {
  /** As far as CREATE OR REPLACE FUNCTION needs it. */
  readonly head: string
  readonly body: string
}

/** The traits of documents that the database's own functions ask for, in the order of the columns that tell them. */
export const traitColumns: Readonly<Partial<Record<keyof DocumentTraits, string>>> = {
  booksLines: 'books_lines',
  movesPayout: 'moves_payout',
  mirrors: 'mirrors',
  opens: 'opens',
  fromBank: 'from_bank',
  mayRepeat: 'may_repeat',
}
const traits = Object.keys(traitColumns) as (keyof DocumentTraits)[]

const documentRows = documentNames.map(
  name => `('${name}', ${traits.map(trait => String(documents[name][trait])).join(', ')})`,
)

/** What the database knows of the core's tables of kinds and documents, by name of the function that tells it. */
const generated: ReadonlyMap<string, GeneratedFunction> = new Map([
  ...kindTraitNames.map((trait): [string, GeneratedFunction] => [
    `kind_is_${trait}`,
    { head: '(kind text) RETURNS boolean', body: ` SELECT kind IN (${kindsOf(trait)}) ` },
  ]),
  [
    'role_may',
    {
      head: '(role text, "right" text) RETURNS boolean',
      body: ` SELECT (role, "right") IN (${roles.flatMap(role => [...rightsOfRole[role]].map(right => `('${role}', '${right}')`)).join(', ')}) `,
    },
  ],
  [
    'document_sorts',
    {
      head: `() RETURNS TABLE (document text, ${traits.map(trait => `${traitColumns[trait]} boolean`).join(', ')})`,
      body: ` SELECT * FROM (VALUES ${documentRows.join(', ')}) sorts `,
    },
  ],
])

/**
 * Gives those of the generated functions that the migrations made the bodies that the core says, where they have others. A kind that gets a trait after
 * lines of it are stored needs a migration besides, which counts the kept sums anew.
 */
export const writeGenerated = async (pool: pg.Pool): Promise<void> => {
  const { rows } = await pool.query<{ name: string; body: string }>(
    `SELECT proname AS name, prosrc AS body FROM pg_proc WHERE pronamespace = 'public'::regnamespace AND proname = ANY($1)`,
    [[...generated.keys()]],
  )
  for (const { name, body } of rows) {
    const made = generated.get(name)
    if (made && made.body !== body)
      await pool.query(
        `CREATE OR REPLACE FUNCTION ${name}${made.head} LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$${made.body}$$`,
      )
  }
}
