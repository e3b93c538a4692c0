import { sql } from 'drizzle-orm'
import { check, date, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import { kindIs } from '../../kinds.ts'
import { clientId, currency, minor, moment, safe } from '../columns.ts'

/** Append-only. A line that came back changed is the next revision; `activity_superseded` names the ones before. */
export const activityLine = pgTable(
  'activity_line',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    pullNo: integer('pull_no').notNull(),
    settlementId: text('settlement_id'),
    /** The settlement's id, or `day:YYYY-MM-DD` of the business day. */
    settlementKey: text('settlement_key').notNull(),
    currency: currency().notNull(),
    occurredAt: moment('occurred_at').notNull(),
    occurredText: text('occurred_text').notNull(),
    localDate: date('local_date').notNull(),
    kind: text('kind').notNull(),
    orderId: text('order_id'),
    gateway: text('gateway'),
    method: text('method'),
    category: text('category'),
    sku: text('sku'),
    /** The goods that it names; any other free text is personal. */
    description: text('description'),
    quantity: text('quantity'),
    unitPrice: minor('unit_price'),
    location: text('location'),
    region: text('region'),
    /** Whom it tells of: a row of `personal`, from which the person may be erased. */
    personId: uuid('person_id'),
    amount: minor('amount').notNull(),
    taxAmount: minor('tax_amount'),
    taxLabel: text('tax_label'),
    relatedId: text('related_id'),
    status: text('status').notNull(),
    availableAt: text('available_at'),
    url: text('url'),
    /** What it tells of payment and dispatch, and the status it would have without waiting for them. */
    extra: jsonb('extra'),
    /** First 52 bits of a digest of everything above that the source said; of persons it holds the id. */
    contentHash: minor('content_hash').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    // No foreign key to the source: its check of each row took a quarter of the insert. Lines come in under the lock of
    // their source's row, and their settlement, which is made with them, refers to it.
    check('activity_line_amount', safe('amount')),
    check('activity_line_status', sql`status IN ('available', 'pending', 'failed')`),
    index('activity_by_settlement').on(table.clientId, table.source, table.settlementKey, table.currency),
    index('activity_by_order').on(table.clientId, table.orderId),
    index('activity_by_amount').on(table.clientId, table.amount),
    index('activity_by_person').on(table.clientId, table.personId).where(sql`person_id IS NOT NULL AND kind = 'sale'`),
    index('activity_by_date').on(table.clientId, table.source, table.localDate),
    index('activity_waiting').on(table.clientId, table.source).where(sql`status <> 'available'`),
    index('activity_reserve').on(table.clientId, table.source).where(kindIs('reserve', 'kind')),
    index('activity_by_related')
      .on(table.clientId, table.source, table.relatedId)
      .where(sql`${kindIs('going_back', 'kind')} AND related_id IS NOT NULL`),
    index('activity_sold')
      .on(table.clientId, table.source, table.orderId)
      .where(sql`kind = 'sale' AND status = 'available' AND order_id IS NOT NULL`),
    index('activity_disputed').on(table.clientId, table.source).where(kindIs('dispute', 'kind')),
    index('activity_paid').on(table.clientId, table.source, table.settlementKey).where(kindIs('payout', 'kind')),
    // What one pull brought lies together: a few pages.
    index('activity_by_pull').using('brin', table.clientId, table.pullNo),
    index('activity_tie_out').on(table.clientId, table.source).where(kindIs('tie', 'kind')),
  ],
)
