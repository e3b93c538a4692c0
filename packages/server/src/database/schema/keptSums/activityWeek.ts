import { date, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { clientId, currency, minor } from '../columns.ts'

/** Sums per kind, category, region and week of the activity as it is now: what the mapping page shows. */
export const activityWeek = pgTable(
  'activity_week',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    kind: text('kind').notNull(),
    category: text('category').notNull(),
    region: text('region').notNull(),
    currency: currency().notNull(),
    week: date('week').notNull(),
    amount: minor('amount').notNull(),
    lines: integer('lines').notNull(),
  },
  table => [
    primaryKey({
      columns: [table.clientId, table.source, table.kind, table.category, table.region, table.currency, table.week],
    }),
  ],
)
