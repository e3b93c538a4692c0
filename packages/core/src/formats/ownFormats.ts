import { statuses } from '../activity/activityLine.ts'
import { kinds } from '../activity/kinds.ts'
import { activityColumns } from './activityRow.ts'
import { balanceColumns } from './balanceRow.ts'
import { bankColumns } from './bankRow.ts'
import { csvRecord } from './csvRecord.ts'
import { settlementColumns } from './settlementRow.ts'

interface Described {
  readonly type: 'string' | 'number' | 'date' | 'datetime'
  readonly says: string
  readonly pattern?: string
  readonly enum?: readonly string[]
}

/** A format of our own: a table whose columns are described, with a sample that its reader takes. */
export interface OwnFormat {
  /** Its file is called so: `activity.csv`. */
  readonly name: string
  readonly title: string
  readonly columns: Readonly<Record<string, Described>>
  readonly required: readonly string[]
  readonly primaryKey: readonly string[]
  readonly sample: readonly Readonly<Record<string, string>>[]
}

const text = (says: string): Described => ({ type: 'string', says })
const amount = (says: string): Described => ({
  type: 'number',
  says: `${says} Decimal point, with the digits of the currency.`,
})
const instant = (says: string): Described => ({ type: 'datetime', says: `${says} ISO 8601 with its offset.` })
const day = (says: string): Described => ({ type: 'date', says: `${says} A local date.` })
const currency: Described = { type: 'string', says: 'ISO 4217.', pattern: '^[A-Z]{3}$' }
const web = text('Where the service shows it.')

const activity: OwnFormat = {
  name: 'activity',
  title: 'Activity of a source: one row per movement',
  required: activityColumns.required,
  primaryKey: ['line_id'],
  columns: {
    line_id: text('One of a kind within its source; told again it is the same line, corrected.'),
    settlement_id: text('The settlement that it is in; blank where the source pays out by day.'),
    occurred_at: instant('When it happened.'),
    kind: { type: 'string', says: 'What happened.', enum: Object.keys(kinds) },
    order_id: text('The order that it is of.'),
    gateway: text('The source’s label of the means of payment.'),
    method: text('Brand of card or the like.'),
    category: text('Category of the goods.'),
    sku: text('Which goods.'),
    description: text('In words.'),
    quantity: text('How many.'),
    unit_price: amount('Price of one.'),
    location: text('Where it was sold.'),
    region: {
      type: 'string',
      says: 'Where goods are delivered or services are used: ISO 3166-1 alpha-2 or ISO 3166-2.',
      pattern: '^[A-Z]{2}(-[A-Z0-9]{1,3})?$',
    },
    customer: text('Name of the buyer.'),
    email: text('Address of the buyer.'),
    ship_to: text('Where it is sent.'),
    currency,
    amount: amount('Signed from the seller’s side: plus raises what is owed to it.'),
    tax_amount: amount('Tax within the amount, signed; blank where it is not stated.'),
    tax_label: text('The source’s label of the tax.'),
    related_id: text('The line that it goes back to.'),
    status: { type: 'string', says: 'Blank: available.', enum: statuses },
    available_at: instant('When it is available.'),
    url: web,
    paid_at: instant('When it was paid.'),
    sent_at: instant('When it was sent.'),
  },
  sample: [
    {
      ...{
        line_id: 'L-1',
        settlement_id: 'W-10',
        occurred_at: '2026-03-02T10:15:00Z',
        kind: 'sale',
        order_id: 'O-501',
      },
      ...{ category: 'Tableware', sku: 'BOWL-1', description: 'Bowl, speckled', quantity: '1', unit_price: '41.00' },
      ...{ region: 'IE', currency: 'EUR', amount: '41.00', tax_amount: '7.67' },
    },
    {
      ...{ line_id: 'L-2', settlement_id: 'W-10', occurred_at: '2026-03-02T10:15:00Z', kind: 'selling_fee' },
      ...{ order_id: 'O-501', currency: 'EUR', amount: '-4.92' },
    },
    {
      ...{ line_id: 'L-3', settlement_id: 'W-10', occurred_at: '2026-03-08T22:00:00Z', kind: 'payout' },
      ...{ currency: 'EUR', amount: '-36.08' },
    },
  ],
}

const settlements: OwnFormat = {
  name: 'settlements',
  title: 'Settlements of a source: what stands at their head',
  required: settlementColumns.required,
  primaryKey: ['settlement_id', 'currency'],
  columns: {
    settlement_id: text('As its lines name it.'),
    period_start: day('Its first day.'),
    period_end: day('Its last day.'),
    currency,
    opening_balance: amount('What it began with; blank where it is not stated.'),
    closing_balance: amount('What it ended with; blank where it is not stated.'),
    payout_date: day('When it is paid out.'),
    payout_reference: text('As the bank will name it.'),
    url: web,
  },
  sample: [
    {
      ...{ settlement_id: 'W-10', period_start: '2026-03-02', period_end: '2026-03-08', currency: 'EUR' },
      ...{ opening_balance: '0.00', closing_balance: '0.00', payout_date: '2026-03-10', payout_reference: 'P-10' },
    },
  ],
}

const balances: OwnFormat = {
  name: 'balances',
  title: 'Balances of a processor: what it says it holds',
  required: balanceColumns.required,
  primaryKey: ['currency', 'at'],
  columns: {
    source: text('The source; blank for the one that the file is brought in for.'),
    currency,
    at: { type: 'string', says: 'Local date and time.', pattern: '^\\d{4}-\\d{2}-\\d{2}( \\d{2}:\\d{2})?$' },
    available: amount('What could be paid out.'),
    pending: amount('What is not available yet.'),
    reserve: amount('What is kept back.'),
  },
  sample: [{ currency: 'EUR', at: '2026-03-08 23:59', available: '36.08', pending: '0.00', reserve: '0.00' }],
}

const bank: OwnFormat = {
  name: 'bank',
  title: 'Lines of a bank account',
  required: bankColumns.required,
  primaryKey: ['bank_account', 'line_id'],
  columns: {
    line_id: text('One of a kind within its account.'),
    date: day('When it was booked.'),
    bank_account: text('Its number, or the code of its account in the chart.'),
    amount: amount('Plus: it came in.'),
    currency,
    description: text('As the statement words it.'),
    reference: text('As whoever paid gave it.'),
  },
  sample: [
    {
      ...{ line_id: 'B-1', date: '2026-03-10', bank_account: 'IE29SKMU99007712344471', amount: '36.08' },
      ...{ currency: 'EUR', description: 'OPENHALL SETTLEMENT', reference: 'P-10' },
    },
  ],
}

/** The formats of our own that are read. */
export const ownFormats: Readonly<Record<'activity' | 'settlements' | 'balances' | 'bank', OwnFormat>> = {
  ...{ activity, settlements, balances, bank },
}

/** A format’s sample as CSV, all columns in their order. */
export const sampleCsv = ({ columns, sample }: OwnFormat): string => {
  const names = Object.keys(columns)
  return [names, ...sample.map(row => names.map(name => row[name] ?? ''))].map(csvRecord).join('')
}

/** A format described as a Frictionless Table Schema (https://specs.frictionlessdata.io/table-schema/). */
export const tableSchema = ({ name, title, columns, required, primaryKey }: OwnFormat) => ({
  $schema: 'https://specs.frictionlessdata.io/schemas/table-schema.json',
  name,
  title,
  fields: Object.entries(columns).map(([column, { type, says, pattern, enum: words }]) => ({
    name: column,
    type,
    description: says,
    ...(type === 'number' && { decimalChar: '.' }),
    ...(type === 'datetime' && { format: 'any' }),
    constraints: {
      required: required.includes(column),
      ...(pattern !== undefined && { pattern }),
      ...(words !== undefined && { enum: words }),
    },
  })),
  missingValues: [''],
  primaryKey,
})
