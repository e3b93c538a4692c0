import { hash } from 'node:crypto'
import { type PersonalOfSource, type PersonalScope, personalScopes } from '@culvert/contract'
import { type ActivityLine, compareText, namesGoods } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { copyRecords, field, RecordBytes } from './copyRecords.ts'

/** What a line tells of a person, or may: all that is kept apart from it, and can be erased. */
export interface Personal {
  readonly customer: string | null
  readonly email: string | null
  readonly shipTo: string | null
  /** Its free text, where that does not name goods. */
  readonly note: string | null
  /** Columns that Culvert does not know. */
  readonly rest: Readonly<Record<string, string>>
}

/** Columns that are told of with a line, known though they are no fields of it. */
const known = new Set(['paid_at', 'sent_at', 'status'])

const nothing: Personal['rest'] = {}

const restOf = (extra: ActivityLine['extra']): Personal['rest'] => {
  let rest = nothing
  for (const name in extra)
    if (!known.has(name)) {
      if (rest === nothing) rest = {}
      ;(rest as Record<string, string>)[name] = extra[name] as string
    }
  return rest
}

/** What a line says beside its personal data, of what is no field of its own. */
export const knownOf = (extra: ActivityLine['extra']): Readonly<Record<string, string>> | null => {
  let told: Record<string, string> | null = null
  for (const name in extra)
    if (known.has(name)) {
      told ??= {}
      told[name] = extra[name] as string
    }
  return told
}

const textOf = ({ customer, email, shipTo, note, rest }: Personal): string | null => {
  let more = ''
  for (const _ in rest) {
    more = Object.keys(rest)
      .sort(compareText)
      .map(name => `\t${field(name)}\t${field(rest[name] as string)}`)
      .join('')
    break
  }
  if (customer === null && email === null && shipTo === null && note === null && more === '') return null
  return `${field(customer)}\t${field(email)}\t${field(shipTo)}\t${field(note)}${more}`
}

/** Ids that are remembered: those of the last orders. */
const mostRemembered = 20_000

/**
 * Gives what lines tell of persons an id, the same for the same of one source: from a key that only the client's row holds, so that nobody can tell from
 * the id what it stands for. Whoever was erased has the same id when a pull tells of them again, and stays erased.
 */
export class Persons {
  private readonly start: string
  private readonly ids = new Map<string, string>()
  private fresh = new RecordBytes()

  constructor(key: string, source: string) {
    this.start = `${key}\t${field(source)}\t`
  }

  /** The id of a line's personal data; null where it tells none. */
  idOf(line: ActivityLine): string | null {
    const personal = {
      customer: line.customer,
      email: line.email,
      shipTo: line.shipTo,
      note: namesGoods(line.kind) ? null : line.description,
      rest: restOf(line.extra),
    }
    const text = textOf(personal)
    if (text === null) return null
    const seen = this.ids.get(text)
    if (seen !== undefined) return seen
    const hex = hash('sha256', this.start + text)
    const id = `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20, 32)}`
    if (this.ids.size >= mostRemembered) this.ids.clear()
    this.ids.set(text, id)
    const { customer, email, shipTo, note, rest } = personal
    const more = rest === nothing ? null : JSON.stringify(rest)
    this.fresh.add(`${id}\t${field(customer)}\t${field(email)}\t${field(shipTo)}\t${field(note)}\t${field(more)}\n`)
    return id
  }

  /** Those that were met since they were last taken. */
  take(): RecordBytes {
    const taken = this.fresh
    this.fresh = new RecordBytes()
    return taken
  }
}

/** What of a row may be kept by scope `s.personal_data`; ids are made of all of it, so that the scope changes no line. */
const withinScope = sql`CASE WHEN s.personal_data <> 'none' THEN customer END AS customer, CASE WHEN s.personal_data = 'all' THEN email END AS email,
  CASE WHEN s.personal_data = 'all' THEN ship_to END AS ship_to, CASE WHEN s.personal_data = 'all' THEN note END AS note,
  CASE WHEN s.personal_data = 'all' THEN rest END AS rest, s.personal_data AS told`

/**
 * Stores persons that are not known yet, as much of them as the source may tell; of those that less was kept of formerly, what it may tell now. The source is
 * held by then: no other writes those of it.
 */
export const storePersons = async (tx: Transaction, source: string, records: RecordBytes): Promise<void> => {
  if (records.lines === 0) return
  await tx.execute(sql`CREATE TEMPORARY TABLE IF NOT EXISTS incoming_person ON COMMIT DROP AS
    SELECT person_id, customer, email, ship_to, note, rest FROM personal WHERE false`)
  await copyRecords(tx, 'incoming_person', records)
  const scope = sql`(SELECT personal_data FROM source WHERE client_id = current_client() AND source = ${source}) s`
  await tx.execute(sql`INSERT INTO personal (client_id, person_id, customer, email, ship_to, note, rest, told)
    SELECT DISTINCT ON (person_id) current_client(), person_id, ${withinScope} FROM incoming_person, ${scope} ORDER BY 2
    ON CONFLICT DO NOTHING`)
  const [narrowed] = await rowsOf(
    tx,
    {},
    sql`SELECT FROM personal WHERE client_id = current_client() AND told <> 'all' LIMIT 1`,
  )
  if (narrowed)
    await tx.execute(sql`UPDATE personal p SET customer = i.customer, email = i.email, ship_to = i.ship_to, note = i.note, rest = i.rest, told = i.told
      FROM (SELECT DISTINCT ON (person_id) person_id, ${withinScope} FROM incoming_person, ${scope} ORDER BY person_id) i
      WHERE p.client_id = current_client() AND p.person_id = i.person_id AND p.erased_at IS NULL
        AND (i.told = 'all' AND p.told <> 'all' OR i.told = 'name' AND p.told = 'none')`)
  await tx.execute(sql`TRUNCATE incoming_person`)
}

/** What a source may tell of customers, and what is kept of them. */
export const loadPersonalOf = (tx: Transaction, source: string): Promise<PersonalOfSource> =>
  oneRow(
    tx,
    {
      scope: is.oneOf(...personalScopes),
      persons: is.whole,
      names: is.whole,
      more: is.whole,
      erased: is.whole,
    },
    sql`SELECT s.personal_data AS scope, count(p.person_id)::int AS persons, count(p.customer)::int AS names,
      count(p.person_id) FILTER (WHERE num_nonnulls(p.email, p.ship_to, p.note, p.rest) > 0)::int AS more, count(p.erased_at)::int AS erased
    FROM source s LEFT JOIN (SELECT DISTINCT person_id FROM activity_line WHERE client_id = current_client() AND source = ${source} AND person_id IS NOT NULL) l
      ON true LEFT JOIN personal p ON p.client_id = s.client_id AND p.person_id = l.person_id
    WHERE s.client_id = current_client() AND s.source = ${source} GROUP BY s.personal_data`,
  )

/** Lets a source, which is held, tell no more than `scope`: what is kept beyond that is erased. Returns of how many. */
export const narrowPersons = async (tx: Transaction, source: string, scope: PersonalScope): Promise<number> => {
  if (scope === 'all') return 0
  const { rowCount } =
    await tx.execute(sql`UPDATE personal p SET customer = CASE WHEN ${scope} = 'name' THEN p.customer END, email = NULL, ship_to = NULL, note = NULL, rest = NULL,
      told = ${scope}
    FROM (SELECT DISTINCT person_id FROM activity_line WHERE client_id = current_client() AND source = ${source} AND person_id IS NOT NULL) l
    WHERE p.client_id = current_client() AND p.person_id = l.person_id AND p.erased_at IS NULL
      AND (p.told = 'all' OR p.told = 'name' AND ${scope} = 'none')`)
  return rowCount ?? 0
}

/** Erases what is kept of persons: their ids stay, so that neither what was booked nor what was hashed changes, and no pull brings them back. */
export const erasePersons = async (tx: Transaction, ids: readonly string[]): Promise<number> => {
  const { rowCount } =
    await tx.execute(sql`UPDATE personal SET customer = NULL, email = NULL, ship_to = NULL, note = NULL, rest = NULL,
      erased_at = clock_now()
    WHERE client_id = current_client() AND person_id = ANY(${sql.param([...ids])}::uuid[]) AND erased_at IS NULL`)
  return rowCount ?? 0
}
