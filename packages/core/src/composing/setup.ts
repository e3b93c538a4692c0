import type { DateBasis } from '../activity/dateBasis.ts'
import type { AccountType } from '../activity/kinds.ts'
import type { GatewayLabels } from '../mapping/gatewayLabels.ts'
import type { Item } from '../mapping/item.ts'
import type { RouteBook } from '../mapping/resolveRoute.ts'
import type { Rule } from '../mapping/rule.ts'
import type { ExchangeRate } from '../money/exchange.ts'
import type { ClassBook } from '../tax/productClass.ts'
import type { TaxCode } from '../tax/taxCode.ts'
import type { TaxBook } from '../tax/taxRow.ts'

export interface Account {
  readonly code: string
  readonly name: string
  readonly type: AccountType
  readonly currency: string
  readonly archived?: boolean
}

export interface BankRow {
  readonly account: string
  readonly region: string | null
  readonly currency: string
}

export type DetailName = 'category' | 'sku' | 'location'

export interface SourceOptions {
  /** An entry per local month for settlements that span months. */
  readonly splitAtMonthEnd: boolean
  readonly taxRounding: 'bucket' | 'line'
  /** Line values that split a bucket, as segments. */
  readonly detail: readonly DetailName[]
  /** Minor units of tax seen beyond tax expected that block; null: not checked. */
  readonly taxTolerance: number | null
  readonly payoutsLeaveBalance: 'sent' | 'arrived'
  readonly reservesStayOnBalance: boolean
  /** Account that stock a till records as bought is owed on; null: such lines are blocked. */
  readonly stockPayable: string | null
  /** Book what is pending as if it were available; a line that fails later is a correction. */
  readonly bookPending: boolean
  /** Postage, discounts and charges on a whole order are taxed as its goods are; only where the client has tax rows. */
  readonly ancillaryFollows: boolean
  /** A refund that names an order and no product is taxed as its order's goods are; only where the client has tax rows. */
  readonly refundFollows: boolean
  /** Country, or part of one, where it sells (a till): the region of its lines that tell none; null: not set. */
  readonly place: string | null
  /** Which instant decides a line's day, month and rates; read with the line. */
  readonly dateBasis: DateBasis
  /** First local date of these books for the source: what ended before it is booked elsewhere, and the opening balances hold it. Null: all is booked here. */
  readonly bookedFrom: string | null
  /** When its trading day ends, `HH:MM` local, and its IANA time zone; null: as the client's. Read with the line. */
  readonly cutOff: string | null
  readonly timeZone: string | null
}

export interface Source {
  readonly key: string
  readonly shape: 'combined' | 'channel' | 'gateway'
  /** Clearing account per currency. */
  readonly clearing: Readonly<Record<string, string>>
  readonly paysInto: readonly BankRow[]
  readonly drawnFrom: readonly BankRow[]
  /** Confirmed wordings of this source on bank lines. */
  readonly bankTexts: readonly string[]
  readonly options: SourceOptions
}

/** Days after which a matter of time is an error, and within which an entry may be dated apart from its lines. */
export interface Timing {
  /** Most days that a payout may be on its way, and that its transfer may be dated from its line. */
  readonly onItsWayDays: number
  /** Most days that an entry may be dated after a line of it. */
  readonly misdatedDays: number
}

export const defaultTiming: Timing = { onItsWayDays: 10, misdatedDays: 35 }

/** Everything besides the lines that decides an entry. */
export interface Setup {
  readonly base: string
  readonly exchangeRounding: string | null
  readonly accounts: ReadonlyMap<string, Account>
  readonly taxCodes: ReadonlyMap<string, TaxCode>
  readonly sources: ReadonlyMap<string, Source>
  readonly routes: RouteBook
  /** Rows that decide the code of supplies; absent: every kind takes its route's code. */
  readonly taxRows?: TaxBook
  /** Classes of products that the rows ask for. */
  readonly classes?: ClassBook
  /** A client's ordered rules, applied after the routes; absent: none. */
  readonly rules?: readonly Rule[]
  /** Items by code, for routes that name one. */
  readonly items?: ReadonlyMap<string, Item>
  readonly rates: readonly ExchangeRate[]
  /** How old what is a matter of time may get (rules of tie-out and proof, sections 8 and 10); absent: it has no age. */
  readonly timing?: Timing
  /** Which source a channel's label of a means of payment stands for; absent: labels are sources' own keys. */
  readonly labels?: GatewayLabels
}

export const defaultOptions: SourceOptions = {
  splitAtMonthEnd: false,
  taxRounding: 'bucket',
  detail: [],
  taxTolerance: null,
  payoutsLeaveBalance: 'sent',
  reservesStayOnBalance: false,
  stockPayable: null,
  bookPending: false,
  ancillaryFollows: false,
  refundFollows: false,
  place: null,
  dateBasis: 'order',
  bookedFrom: null,
  cutOff: null,
  timeZone: null,
}
