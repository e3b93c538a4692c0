import { zoneOf } from '../activity/zone.ts'
import { foldText } from '../mapping/folded.ts'
import { isCurrency } from '../money/currency.ts'
import type { HeadsOf, MeaningOf } from './columnMeanings.ts'
import { ordersThatRead, stylesThatRead } from './foreignFields.ts'
import { headWords } from './headWords.ts'
import { proposeKind } from './proposeKind.ts'

/** What a column of a foreign file is taken to mean. */
export interface ColumnProposal<Meaning extends string> {
  readonly column: number
  /** Null: nothing that is read. */
  readonly meaning: Meaning | null
  /** Its name says so, its values fit, and no other column or meaning comes near: what is not sure is asked. */
  readonly sure: boolean
}

/** What values look like; a column means nothing that its values do not fit. */
type Look = 'text' | 'date' | 'number' | 'currency' | 'email'

const looks: Readonly<Record<string, Look>> = {
  ...{ occurred_at: 'date', paid_at: 'date', sent_at: 'date', available_at: 'date', date: 'date', value_date: 'date' },
  ...{ gross: 'number', fee: 'number', net: 'number', amount: 'number', credit: 'number', debit: 'number' },
  ...{ balance: 'number', tax_amount: 'number', unit_price: 'number', quantity: 'number' },
  ...{ period_start: 'date', period_end: 'date', payout_date: 'date', at: 'date' },
  ...{
    opening_balance: 'number',
    closing_balance: 'number',
    available: 'number',
    pending: 'number',
    reserve: 'number',
  },
  ...{ currency: 'currency', email: 'email' },
}

const anyZone = zoneOf('UTC')
const fitsLook: Readonly<Record<Look, (values: readonly string[]) => boolean>> = {
  text: () => true,
  date: values => ordersThatRead(values, anyZone).length > 0,
  number: values => stylesThatRead(values).length > 0,
  currency: values => values.every(value => isCurrency(value)),
  email: values => values.every(value => value.includes('@')),
}

/** Of a column whose name says what it is a few odd values are faults of theirs: it is proposed all the same, and asked about. */
const mostlyFits = (look: Look, values: readonly string[]): boolean => {
  const fitting = values.filter(value => fitsLook[look]([value]))
  return fitting.length * 2 > values.length && fitsLook[look](fitting)
}
const misfitPoints = 25

/** Points of a name that is the word itself, of one that ends or begins with it, and of one that merely has it. */
const whole = 100
const edge = 60
const within = 40
/** From how many points on a name alone says it, and by how much more than the next. */
const surePoints = 90
const sureLead = 20

const spaced = (head: string): string =>
  foldText(head)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

const pointsOf = (head: string, words: string): number => {
  let most = 0
  for (const [at, phrase] of words.split(',').entries()) {
    // Of two words that say it as well, the one named first says it better.
    const rank = Math.min(at, 30) / 10
    const wordCount = phrase.split(' ').length
    if (head === phrase) most = Math.max(most, whole - rank)
    else if (head.startsWith(`${phrase} `) || head.endsWith(` ${phrase}`))
      most = Math.max(most, edge + 5 * wordCount - rank)
    else if (` ${head} `.includes(` ${phrase} `)) most = Math.max(most, within + 5 * wordCount - rank)
  }
  return most
}

interface Candidate {
  readonly column: number
  readonly meaning: string
  readonly points: number
}

/** Meanings that several columns may have at once: their values are put one after the other. */
const mayRepeat: ReadonlySet<string> = new Set(['description'])
/** Without these no line can be made: while one of them is not found, a column of words may be it. */
const needed: Readonly<Record<HeadsOf, readonly (readonly string[])[]>> = {
  activity: [['occurred_at'], ['amount', 'gross', 'net', 'credit', 'debit']],
  bank: [['date'], ['amount', 'credit', 'debit']],
  settlements: [['settlement_id']],
  balances: [['at'], ['available']],
  chart: [['code'], ['name']],
}

/**
 * What the columns of a foreign file mean, by their names in six languages and by what stands in them. `rows`: some of its records. A meaning goes to one
 * column, the one that says it best; what only comes near is proposed and not sure.
 */
export const proposeColumns = <Of extends HeadsOf>(
  of: Of,
  header: readonly string[],
  rows: readonly (readonly string[])[],
): readonly ColumnProposal<MeaningOf<Of>>[] => {
  const candidates = candidatesOf(of, header, rows)
  const chosen = new Map<number, Candidate>()
  const taken = new Set<string>()
  for (const one of [...candidates].sort((left, right) => right.points - left.points || left.column - right.column)) {
    if (chosen.has(one.column) || (taken.has(one.meaning) && !mayRepeat.has(one.meaning))) continue
    if (taken.has(one.meaning) && one.points < surePoints) continue
    chosen.set(one.column, one)
    taken.add(one.meaning)
  }
  for (const one of byContent(of, { header, rows }, { chosen, taken })) {
    chosen.set(one.column, one)
    taken.add(one.meaning)
  }
  const lacking = needed[of].some(some => !some.some(meaning => taken.has(meaning)))
  // Words for what happened stand in a column of that name, or, where there is none, perhaps among the descriptions.
  const kindLacking = of === 'activity' && !taken.has('kind')
  return header.map((_, column) => {
    const best = chosen.get(column)
    if (!best) return { column, meaning: null, sure: !candidates.some(one => one.column === column) }
    const rivals = candidates.filter(
      one =>
        (one.column === column && one.meaning !== best.meaning) ||
        (one.column !== column && one.meaning === best.meaning && !mayRepeat.has(one.meaning)),
    )
    const lead = best.points - Math.max(0, ...rivals.map(one => one.points))
    const doubtful = lacking || (kindLacking && best.meaning === 'description')
    return {
      column,
      meaning: renamed(best.meaning, taken) as MeaningOf<Of>,
      sure: best.points >= surePoints && lead >= sureLead && !doubtful,
    }
  })
}

/** Of a column whose name says nothing: it is asked about, whatever stands in it. */
const contentPoints = 30
const mostKinds = 40

/** Where no name says it: the one column in which days stand, and the one whose words are those of movements. */
const byContent = (
  of: HeadsOf,
  file: { readonly header: readonly string[]; readonly rows: readonly (readonly string[])[] },
  named: { readonly chosen: ReadonlyMap<number, Candidate>; readonly taken: ReadonlySet<string> },
): readonly Candidate[] => {
  const only = (meaning: string, holds: (values: readonly string[]) => boolean): Candidate[] => {
    if (named.taken.has(meaning)) return []
    const columns = file.header.flatMap((_, column) => {
      const values = file.rows.map(row => (row[column] ?? '').trim()).filter(value => value !== '')
      return !named.chosen.has(column) && values.length > 0 && holds(values) ? [column] : []
    })
    const [column] = columns
    return column !== undefined && columns.length === 1 ? [{ column, meaning, points: contentPoints }] : []
  }
  const isDay = (values: readonly string[]) => fitsLook.date(values) && !fitsLook.number(values)
  const isKind = (values: readonly string[]) => {
    const words = [...new Set(values)]
    const known = words.filter(word => proposeKind(word, 'combined', { plus: 1, minus: 0 }).kind !== null)
    return words.length <= mostKinds && known.length * 2 >= words.length && !fitsLook.number(words)
  }
  if (of === 'activity') return [...only('occurred_at', isDay), ...only('kind', isKind)]
  return of === 'bank' ? only('date', isDay) : []
}

// Where fee and net stand beside it, an amount is the gross.
const renamed = (meaning: string, taken: ReadonlySet<string>): string =>
  meaning === 'amount' && taken.has('fee') && taken.has('net') && !taken.has('gross') ? 'gross' : meaning

const candidatesOf = (
  of: HeadsOf,
  header: readonly string[],
  rows: readonly (readonly string[])[],
): readonly Candidate[] =>
  header.flatMap((head, column) => {
    const name = spaced(head)
    const values = rows.map(row => (row[column] ?? '').trim()).filter(value => value !== '')
    return Object.entries<string>(headWords[of]).flatMap(([meaning, words]) => {
      const points = pointsOf(name, words)
      // A list of accounts is short: a word that fits nothing in it is a fault, and tells of no other column.
      const look = of === 'chart' ? 'text' : (looks[meaning] ?? 'text')
      if (points === 0) return []
      if (fitsLook[look](values)) return [{ column, meaning, points }]
      return points >= surePoints && mostlyFits(look, values)
        ? [{ column, meaning, points: points - misfitPoints }]
        : []
    })
  })
