import { type KindTrait, kindTraits } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'

// Kinds that have something in common are listed in the core; statements, partial indexes and the database's own functions take their lists from there.

/** The kinds with a trait as a list of literals: only against literals does the planner know that a partial index serves. */
export const kindsOf = (trait: KindTrait): string => kindTraits[trait].map(kind => `'${kind}'`).join(', ')

/** Condition that a column, by default that of lines of alias `l`, holds a kind with a trait. */
export const kindIs = (trait: KindTrait, column = 'l.kind'): SQL => sql.raw(`${column} IN (${kindsOf(trait)})`)
export const kindIsNot = (trait: KindTrait, column = 'l.kind'): SQL => sql.raw(`${column} NOT IN (${kindsOf(trait)})`)
