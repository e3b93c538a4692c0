import { type ActivityLine, type Status, statuses } from '../activity/activityLine.ts'
import { countedBy, type DateBasis, type ToldInstant } from '../activity/dateBasis.ts'
import { isKind, type Kind } from '../activity/kinds.ts'
import type { Columns } from './columns.ts'
import { type RowContext, type RowFields, readRow } from './fields.ts'

/** Columns of activity.csv. */
export const activityColumns = {
  known: [
    'line_id',
    'settlement_id',
    'occurred_at',
    'kind',
    'order_id',
    'gateway',
    'method',
    'category',
    'sku',
    'description',
    'quantity',
    'unit_price',
    'location',
    'region',
    'customer',
    'email',
    'ship_to',
    'currency',
    'amount',
    'tax_amount',
    'tax_label',
    'related_id',
    'status',
    'available_at',
    'url',
    'paid_at',
    'sent_at',
  ],
  required: ['line_id', 'occurred_at', 'kind', 'currency', 'amount'],
} as const
export type ActivityColumn = (typeof activityColumns.known)[number]

const regionShape = /^[A-Z]{2}(-[A-Z0-9]{1,3})?$/

/** Reads one record of activity.csv; null, with faults noted, where anything in it is wrong. */
export const readActivityRow = (
  record: readonly string[],
  context: RowContext<ActivityColumn> & { readonly source: string; readonly dateBasis?: DateBasis },
): ActivityLine | null => readRow(record, context, fields => lineOf(fields, context, record))

const none: Readonly<Record<string, string>> = {}
const extraOf = (record: readonly string[], { unknown }: Columns<ActivityColumn>): Readonly<Record<string, string>> => {
  if (unknown.length === 0) return none
  const extra: Record<string, string> = {}
  for (const { name, index } of unknown) if (record[index]) extra[name] = record[index].replaceAll('\0', '')
  return extra
}

const told = (fields: RowFields<ActivityColumn>, column: 'paid_at' | 'sent_at'): ToldInstant | null => {
  const text = fields.text(column)
  const instant = fields.instant(column, text)
  return text === null || instant === null ? null : { text, instant }
}

/** What was told of payment and dispatch is kept with the line, whatever counts today. */
const withTimes = (
  extra: Readonly<Record<string, string>>,
  paid: ToldInstant | null,
  sent: ToldInstant | null,
): Readonly<Record<string, string>> => ({
  ...extra,
  ...(paid && { paid_at: paid.text }),
  ...(sent && { sent_at: sent.text }),
})

// One literal, not parts spread together: a million lines are made here, and spreading takes longer than reading.
const lineOf = (
  fields: RowFields<ActivityColumn>,
  context: { readonly source: string; readonly columns: Columns<ActivityColumn>; readonly dateBasis?: DateBasis },
  record: readonly string[],
): ActivityLine | null => {
  const lineId = fields.requiredId('line_id')
  const occurredAt = fields.required('occurred_at')
  const instant = fields.instant('occurred_at', occurredAt)
  const kind = fields.required('kind')
  if (kind !== '' && !isKind(kind)) fields.fault('kind', kind, 'unknown_kind')
  const currency = fields.currency('currency')
  fields.required('amount')
  const amount = fields.amount('amount', currency)
  const region = fields.text('region')
  if (region !== null && !regionShape.test(region)) fields.fault('region', region, 'not_a_region')
  const toldStatus = fields.text('status') ?? 'available'
  if (!isStatus(toldStatus)) fields.fault('status', toldStatus, 'unknown_status')
  const availableAt = fields.text('available_at')
  fields.instant('available_at', availableAt)
  const taxAmount = fields.amount('tax_amount', currency)
  const unitPrice = fields.amount('unit_price', currency)
  const paid = told(fields, 'paid_at')
  const sent = told(fields, 'sent_at')
  const { dateBasis = 'order' } = context
  const occurred = { text: occurredAt, instant: instant ?? 0 }
  const { counts, status, held } = countedBy(dateBasis, { occurred, paid, sent, status: toldStatus as Status })
  const line = {
    source: context.source,
    lineId,
    settlementId: fields.id('settlement_id'),
    occurredAt,
    instant: counts.instant,
    kind: kind as Kind,
    orderId: fields.id('order_id'),
    gateway: fields.id('gateway'),
    method: fields.text('method'),
    category: fields.id('category'),
    sku: fields.id('sku'),
    description: fields.text('description'),
    quantity: fields.text('quantity'),
    unitPrice,
    location: fields.text('location'),
    region,
    customer: fields.text('customer'),
    email: fields.text('email'),
    shipTo: fields.text('ship_to'),
    currency: currency ?? '',
    amount: amount ?? 0,
    taxAmount,
    taxLabel: fields.text('tax_label'),
    relatedId: fields.id('related_id'),
    // What has not happened yet decides nothing: the line waits for it.
    status,
    availableAt,
    url: fields.text('url'),
    extra: paid || sent ? withTimes(extraOf(record, context.columns), paid, sent) : extraOf(record, context.columns),
  }
  if (instant === null || currency === null || amount === null || !isKind(kind) || !isStatus(toldStatus)) return null
  if (counts === occurred) return held ? { ...line, held } : line
  return { ...line, countsAt: counts.text }
}

const isStatus = (text: string): text is Status => (statuses as readonly string[]).includes(text)
