/** A made-up head of a foreign file with some of its rows, and what each column means; written down before anything proposed it. */
export interface MeasuredHead {
  readonly name: string
  readonly of: 'activity' | 'bank' | 'chart' | 'settlements' | 'balances'
  readonly header: readonly string[]
  readonly rows: readonly (readonly string[])[]
  /** What the columns mean, in their order; null: nothing that Culvert reads. */
  readonly right: readonly (string | null)[]
}

/** "head | meaning" per column, `-` for none; then rows with `|` between the fields. */
export const headOf = (name: string, of: MeasuredHead['of'], columns: string, rows: string): MeasuredHead => {
  const pairs = columns
    .trim()
    .split('\n')
    .map(line => line.split('=>').map(part => part.trim()) as [string, string])
  return {
    name,
    of,
    header: pairs.map(([head]) => head),
    right: pairs.map(([, meaning]) => (meaning === '-' ? null : meaning)),
    rows: rows
      .trim()
      .split('\n')
      .map(line => line.split('|').map(field => field.trim())),
  }
}
