import fc from 'fast-check'
import { type ActivityLine, statuses } from '../activity/activityLine.ts'
import { type Kind, kindNames } from '../activity/kinds.ts'
import { isPayout } from '../activity/kindTraits.ts'
import type { SourceOptions } from '../composing/setup.ts'
import { currencies } from './madeSetup.ts'

/** Seed of the generated months; printed by each test that uses it, so that what it finds can be found again. */
export const seed = Number(process.env.CULVERT_SEED ?? 20_260_331)

const day = 86_400_000
const start = Date.parse('2026-02-10T00:00:00Z')
const maybe = <Value>(...values: readonly Value[]) => fc.constantFrom(null, ...values)

/** Kinds as they come: any of them, payouts and money that means of payment move more often than by chance. */
const anyKind = fc.oneof(
  { weight: 6, arbitrary: fc.constantFrom<Kind>(...kindNames) },
  { weight: 1, arbitrary: fc.constantFrom<Kind>('payout', 'payout_returned') },
  { weight: 2, arbitrary: fc.constantFrom<Kind>('tender', 'collected', 'tender_returned', 'collected_back') },
)

const anyLine = fc.record({
  source: fc.constantFrom('openhall', 'stall', 'counterpay'),
  kind: anyKind,
  settlementId: maybe('S1', 'S2'),
  instant: fc.integer({ min: 0, max: 60 * 24 * 60 }).map(minutes => start + minutes * 60_000),
  orderId: maybe('A', 'B', 'C'),
  gateway: maybe('counterpay', 'cash'),
  method: maybe('card'),
  category: maybe('Books', 'Tableware', 'Glaze; kits=2'),
  sku: maybe('MUG', 'HALL', 'BOWL'),
  location: maybe('Lane', 'Fair'),
  region: maybe('IE', 'US', 'CA', 'CA-QC', 'CA-BC'),
  taxLabel: maybe('GST', 'Bag levy'),
  currency: fc.constantFrom(...currencies),
  amount: fc.oneof(fc.integer({ min: -99_999, max: 99_999 }), fc.constantFrom(0, 1, -1, 10_000)),
  taxAmount: fc.option(fc.integer({ min: -900, max: 900 }), { freq: 2 }),
  quantity: maybe('1', '2', '0.5'),
  customer: maybe('Orla Quill', 'B. Fitch'),
  status: fc.oneof(
    { weight: 9, arbitrary: fc.constant('available' as const) },
    { weight: 1, arbitrary: fc.constantFrom(...statuses) },
  ),
})

/** Lines of two months at three sources, ids in order. */
export const madeMonths = (size: { readonly minLength?: number; readonly maxLength: number }) =>
  fc.array(anyLine, { minLength: 1, size: 'max', ...size }).map(rows =>
    rows.map(
      (row, index): ActivityLine => ({
        ...row,
        lineId: `L${String(index).padStart(4, '0')}`,
        occurredAt: new Date(row.instant).toISOString(),
        description: null,
        unitPrice: null,
        email: null,
        shipTo: null,
        relatedId: null,
        availableAt: null,
        url: null,
        extra: {},
        taxAmount: isPayout(row.kind) ? null : row.taxAmount,
      }),
    ),
  )

export const madeOptions: fc.Arbitrary<Partial<SourceOptions>> = fc.record({
  splitAtMonthEnd: fc.boolean(),
  taxRounding: fc.constantFrom<'bucket' | 'line'>('bucket', 'line'),
  detail: fc.constantFrom<SourceOptions['detail']>(
    [],
    ['category'],
    ['sku', 'location'],
    ['category', 'sku', 'location'],
  ),
})

/** Days as milliseconds, for shifting a line. */
export const oneDay = day
