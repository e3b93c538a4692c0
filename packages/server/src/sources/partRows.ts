import { kindNames, kinds } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'

/** The kinds with their place in the statement, as rows `p(kind, part)`. */
export const partRows = (): SQL =>
  sql`unnest(${sql.param([...kindNames])}::text[], ${sql.param(kindNames.map(name => kinds[name].part))}::text[]) AS p(kind, part)`
