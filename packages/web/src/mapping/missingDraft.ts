import type { MakeMissing, MissingAccount, MissingBank, MissingPage, MissingTax } from '@culvert/contract'

/** What somebody chose for one thing that is missing; what is undefined was not touched. */
export interface Chosen {
  readonly taken?: boolean
  /** An account or code that exists; null: a new one. */
  readonly use?: string | null
  /** Of a tax: none is borne. */
  readonly none?: boolean
  readonly code?: string
  readonly name?: string
  readonly type?: MissingAccount['make']['type']
  /** As it was typed; of a tax. */
  readonly percent?: string
}

export interface MissingDraft {
  readonly rows: ReadonlyMap<string, Chosen>
  /** The tax that is borne, by the key of what asks; a code, or null for none. */
  readonly feeTaxes: ReadonlyMap<string, string | null>
}

export const emptyDraft: MissingDraft = { rows: new Map(), feeTaxes: new Map() }

/** A typed rate in percent; null where it is none. */
export const readPercent = (text: string): number | null => {
  const trimmed = text.trim().replace(',', '.').replace(/\s*%$/, '')
  if (!/^\d{1,3}(\.\d{1,4})?$/.test(trimmed)) return null
  const percent = Number(trimmed)
  return percent <= 100 ? percent : null
}

interface AccountChoice {
  readonly taken: boolean
  readonly use: string | null
  readonly code: string
  readonly name: string
  readonly type: MissingAccount['make']['type']
  /** Why it cannot be taken yet. */
  readonly waits: 'tax' | 'name' | null
}

/** What stands for a missing account: taken by itself is what is sure, and what nothing in the chart would serve. */
export const accountChoice = (row: MissingAccount, draft: MissingDraft): AccountChoice => {
  const chosen = draft.rows.get(row.key) ?? {}
  const waits = row.asks.some(key => !draft.feeTaxes.has(key)) ? 'tax' : null
  return choiceOf(row, chosen, { waits, sure: row.use?.sure ?? true })
}

/** What stands for an account of a source’s own: a bank, or a clearing account. */
export const ownChoice = (row: MissingBank, draft: MissingDraft, sort: OwnSort): AccountChoice =>
  choiceOf(row, draft.rows.get(ownKey(row, sort)) ?? {}, { waits: null, sure: row.use?.sure ?? true })

/** Under which key what was chosen of it is kept. */
export type OwnSort = 'bank' | 'clearing' | 'rounding'
export const ownKey = (row: MissingBank, sort: OwnSort): string => `${sort} ${row.key}`

const choiceOf = (
  row: MissingAccount | MissingBank,
  chosen: Chosen,
  of: { readonly waits: 'tax' | null; readonly sure: boolean },
): AccountChoice => {
  const use = chosen.use === undefined ? (row.use?.account ?? null) : chosen.use
  const code = chosen.code ?? row.make.code
  const name = chosen.name ?? row.make.name
  const waits = of.waits ?? (use === null && (code.trim() === '' || name.trim() === '') ? 'name' : null)
  return {
    ...{ use, code, name, waits },
    type: chosen.type ?? row.make.type,
    taken: waits === null && (chosen.taken ?? of.sure),
  }
}

interface TaxChoice {
  readonly taken: boolean
  readonly none: boolean
  readonly use: string | null
  readonly code: string
  readonly name: string
  readonly percentText: string
  readonly percent: number | null
  readonly waits: 'rate' | 'country' | null
}

/** What stands for missing tax: by itself is taken only what was charged so. */
export const taxChoice = (row: MissingTax, draft: MissingDraft): TaxChoice => {
  const chosen = draft.rows.get(row.key) ?? {}
  const use = chosen.use === undefined ? (row.use?.code ?? null) : chosen.use
  const percentText = chosen.percent ?? (row.make?.percent == null ? '' : String(row.make.percent))
  const percent = readPercent(percentText)
  // Where the rate is typed, the code is made of it: rows of one country that bear one rate share it.
  const isTyped = row.make?.percent == null || chosen.percent !== undefined
  const named =
    row.make && isTyped && percent !== null
      ? {
          code: `${row.make.country}${String(percent).replace('.', '-')}`,
          name: `${row.make.name.replace(/, [\d.]+ %$/, '')}, ${percent} %`,
        }
      : { code: row.make?.code ?? '', name: row.make?.name ?? '' }
  const none = chosen.none ?? false
  const waits = none || use !== null ? null : row.make === null ? 'country' : percent === null ? 'rate' : null
  const known =
    use === null
      ? row.make?.percent != null || chosen.percent !== undefined
      : row.use?.why === 'rate_seen' || chosen.use !== undefined
  return {
    ...{ none, use, percentText, percent, waits },
    code: chosen.code ?? named.code,
    name: chosen.name ?? named.name,
    taken: waits === null && (chosen.taken ?? (none || known)),
  }
}

/** What a press would make of it all. */
export const wantedOf = (page: MissingPage, draft: MissingDraft): MakeMissing => {
  const taken = <Row extends MissingAccount | MissingBank>(
    rows: readonly Row[],
    choose: (row: Row, draft: MissingDraft) => AccountChoice,
  ) =>
    rows.flatMap(row => {
      const { taken: isTaken, use, code, name, type } = choose(row, draft)
      return isTaken
        ? [{ key: row.key, use, make: use === null ? { code: code.trim(), name: name.trim(), type } : null }]
        : []
    })
  return {
    version: page.version,
    banks: taken(page.banks, row => ownChoice(row, draft, 'bank')),
    clearings: taken(page.clearings, row => ownChoice(row, draft, 'clearing')),
    rounding: taken(page.rounding ? [page.rounding] : [], row => ownChoice(row, draft, 'rounding'))[0] ?? null,
    accounts: taken(page.accounts, accountChoice),
    taxes: page.taxes.flatMap(row => {
      const { taken: isTaken, none, use, code, name, percent } = taxChoice(row, draft)
      if (!isTaken) return []
      if (none) return [{ key: row.key, use: null, none, make: null }]
      return [{ key: row.key, use, make: use === null && percent !== null ? { code, name, percent } : null }]
    }),
    taxAccount: { use: page.taxAccount.use, make: page.taxAccount.use === null ? page.taxAccount.make : null },
    feeTaxes: [...draft.feeTaxes].map(([key, code]) => ({ key, code })),
  }
}

/** How many of each it comes to. */
export const countsOf = (wanted: MakeMissing) => {
  const rounding = wanted.rounding ? [wanted.rounding] : []
  const accounts = new Set(
    [...wanted.banks, ...wanted.clearings, ...rounding, ...wanted.accounts].flatMap(one => one.make?.code ?? []),
  )
  const made = wanted.taxes.filter(one => one.make)
  if (made.some(one => (one.make?.percent ?? 0) > 0) && wanted.taxAccount.make)
    accounts.add(wanted.taxAccount.make.code)
  return {
    accounts: accounts.size,
    taxCodes: new Set(made.map(one => one.make?.code)).size,
    used: [...wanted.banks, ...wanted.clearings, ...rounding, ...wanted.accounts, ...wanted.taxes].filter(
      one => one.use !== null,
    ).length,
    all: wanted.banks.length + wanted.clearings.length + rounding.length + wanted.accounts.length + wanted.taxes.length,
  }
}

/** The page, what was chosen on it so far, and how that is changed. */
export interface MissingEditing {
  readonly page: MissingPage
  readonly draft: MissingDraft
  readonly choose: (key: string, part: Chosen) => void
  readonly say: (key: string, code: string | null | undefined) => void
}
