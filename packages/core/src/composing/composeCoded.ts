import { routeBook } from '../mapping/resolveRoute.ts'
import { type Composed, composeSettlement } from './composeSettlement.ts'
import { defaultOptions, type Setup } from './setup.ts'

/** A bank line that a person sends straight to an account. Minor units, plus is money in; local date. */
export interface CodedLine {
  readonly bankAccount: string
  readonly currency: string
  readonly date: string
  readonly amount: number
  readonly account: string
  /** Tax is within the amount, or by reverse charge beside it; null: none. */
  readonly taxCode: string | null
}

/** Key of the source that a bank account is for its own lines; no client's source can be named like it. */
const ownKey = '\u0000bank'

/** The tax codes, with the one of the line taken out of its amount: what a bank moves has no line of tax beside it. */
const withinAmount = ({ taxCodes }: Setup, name: string | null): Setup['taxCodes'] => {
  const code = name === null ? undefined : taxCodes.get(name)
  return code?.basis === 'exclusive' ? new Map([...taxCodes, [code.code, { ...code, basis: 'inclusive' }]]) : taxCodes
}

/**
 * Composes a coded bank line like a settlement of one line whose clearing account is the bank account: by the same tax codes, rates and
 * checks as everything else. Blocks say why it cannot be booked.
 */
export const composeCoded = (line: CodedLine, setup: Setup): Composed => {
  const { currency, date, amount } = line
  const route = {
    id: 0,
    kind: 'adjustment',
    account: line.account,
    taxCode: line.taxCode,
    segments: {},
    block: false,
    from: null,
  } as const
  const composed = composeSettlement(
    {
      source: ownKey,
      currency,
      settlementId: null,
      day: date,
      head: null,
      lines: [
        {
          source: ownKey,
          kind: 'adjustment',
          category: null,
          sku: null,
          location: null,
          gateway: null,
          method: null,
          taxLabel: null,
          region: null,
          localDate: date,
          amount,
          taxAmount: null,
          count: 1,
        },
      ],
      payouts: [],
      sumOfLines: amount,
      lastDate: date,
    },
    {
      ...setup,
      rules: [],
      routes: routeBook([route]),
      taxCodes: withinAmount(setup, line.taxCode),
      sources: new Map([
        [
          ownKey,
          {
            key: ownKey,
            shape: 'combined',
            clearing: { [currency]: line.bankAccount },
            paysInto: [],
            drawnFrom: [],
            bankTexts: [],
            options: defaultOptions,
          },
        ],
      ]),
    },
  )
  // Its lines lead back to the bank line, not to activity.
  return {
    ...composed,
    entries: composed.entries.map(entry => ({
      ...entry,
      lines: entry.lines.map(one => ({ ...one, buckets: [], routes: [] })),
    })),
  }
}
