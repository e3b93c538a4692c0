import { sql } from 'drizzle-orm'
import {
  boolean,
  char,
  check,
  customType,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
} from 'drizzle-orm/pg-core'

/** Minor units. The driver hands int8 over through the one reader in connect.ts, which throws on unsafe numbers. */
const minor = customType<{ data: number; driverData: number }>({ dataType: () => 'bigint' })
const safe = (column: string) => sql.raw(`${column} BETWEEN -9000000000000000 AND 9000000000000000`)
const clientId = () => integer('client_id').notNull()
const now = () => timestamp('at', { withTimezone: true, mode: 'string' }).notNull().defaultNow()
const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'string' })
const currency = (name = 'currency') => char(name, { length: 3 })

// People and clients ------------------------------------------------------------------------------------------------

export const appUser = pgTable('app_user', {
  userId: integer('user_id').primaryKey().generatedAlwaysAsIdentity(),
  email: text('email').notNull().unique(),
  name: text('name').notNull(),
})

export const client = pgTable('client', {
  clientId: integer('client_id').primaryKey().generatedByDefaultAsIdentity(),
  name: text('name').notNull(),
  base: currency('base').notNull(),
  timeZone: text('time_zone').notNull(),
  cutOff: text('cut_off').notNull().default('00:00'),
  locale: text('locale').notNull().default('en-IE'),
  exchangeRounding: text('exchange_rounding'),
  exchangeDifference: text('exchange_difference'),
  /** Month, 1 to 12, in which the fiscal year begins. */
  fiscalStart: integer('fiscal_start').notNull().default(1),
  createdAt: moment('created_at').notNull().defaultNow(),
})

export const membership = pgTable(
  'membership',
  {
    clientId: clientId().references(() => client.clientId),
    userId: integer('user_id')
      .notNull()
      .references(() => appUser.userId),
    role: text('role').notNull(),
  },
  table => [primaryKey({ columns: [table.clientId, table.userId] }), index('membership_user').on(table.userId)],
)

/** What waits at each stage, kept by the transaction that changes it. `amount` in the client's base, minor units. */
export const clientSummary = pgTable(
  'client_summary',
  {
    clientId: clientId().references(() => client.clientId),
    stage: text('stage').notNull(),
    waiting: integer('waiting').notNull().default(0),
    amount: minor('amount').notNull().default(0),
    note: text('note').notNull().default(''),
    at: now(),
  },
  table => [primaryKey({ columns: [table.clientId, table.stage] })],
)

// Books: chart of accounts, tax codes -------------------------------------------------------------------------------

export const account = pgTable(
  'account',
  {
    clientId: clientId().references(() => client.clientId),
    code: text('code').notNull(),
    name: text('name').notNull(),
    type: text('type').notNull(),
    currency: currency().notNull(),
    archived: boolean('archived').notNull().default(false),
    bankNumber: text('bank_number'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    uniqueIndex('account_bank_number').on(table.clientId, table.bankNumber),
  ],
)

export const taxCode = pgTable(
  'tax_code',
  {
    clientId: clientId().references(() => client.clientId),
    code: text('code').notNull(),
    name: text('name').notNull(),
    treatment: text('treatment').notNull().default('taxed'),
    basis: text('basis').notNull(),
    use: text('use').notNull(),
    reverseCharge: boolean('reverse_charge').notNull().default(false),
  },
  table => [primaryKey({ columns: [table.clientId, table.code] })],
)

export const taxComponent = pgTable(
  'tax_component',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    position: integer('position').notNull(),
    name: text('name').notNull(),
    account: text('account').notNull(),
    inputAccount: text('input_account'),
    compound: boolean('compound').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code, table.position] }),
    foreignKey({ columns: [table.clientId, table.code], foreignColumns: [taxCode.clientId, taxCode.code] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.inputAccount], foreignColumns: [account.clientId, account.code] }),
  ],
)

export const taxRate = pgTable(
  'tax_rate',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    position: integer('position').notNull(),
    from: date('from').notNull(),
    percent: numeric('percent').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code, table.position, table.from] }),
    foreignKey({
      columns: [table.clientId, table.code, table.position],
      foreignColumns: [taxComponent.clientId, taxComponent.code, taxComponent.position],
    }),
  ],
)

export const exchangeRate = pgTable(
  'exchange_rate',
  {
    clientId: clientId().references(() => client.clientId),
    date: date('date').notNull(),
    from: currency('from').notNull(),
    to: currency('to').notNull(),
    rate: numeric('rate').notNull(),
  },
  table => [primaryKey({ columns: [table.clientId, table.date, table.from, table.to] })],
)

// Sources and activity ----------------------------------------------------------------------------------------------

export const source = pgTable(
  'source',
  {
    clientId: clientId().references(() => client.clientId),
    source: text('source').notNull(),
    name: text('name').notNull(),
    shape: text('shape').notNull(),
    options: jsonb('options').notNull().default({}),
    bankTexts: jsonb('bank_texts').notNull().default([]),
    /** Where it is pulled from: null for sources that come as files only. */
    address: text('address'),
    credentials: jsonb('credentials'),
    cursor: text('cursor'),
    pulledTo: moment('pulled_to'),
    /** Number of the last pull or upload that was stored; the lock on this row orders them. */
    lastPull: integer('last_pull').notNull().default(0),
  },
  table => [primaryKey({ columns: [table.clientId, table.source] })],
)

export const sourceClearing = pgTable(
  'source_clearing',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    account: text('account').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.currency] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** Bank accounts that a source pays into or draws from; region '' serves all. */
export const sourceBank = pgTable(
  'source_bank',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    direction: text('direction').notNull(),
    currency: currency().notNull(),
    region: text('region').notNull().default(''),
    account: text('account').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.direction, table.currency, table.region] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** The pull log: pulls, uploads and bank statements, with progress while they run. */
export const pull = pgTable(
  'pull',
  {
    clientId: clientId().references(() => client.clientId),
    pullId: text('pull_id').notNull(),
    /** pull, upload, statement or bank_pull. */
    sort: text('sort').notNull(),
    source: text('source').notNull(),
    state: text('state').notNull(),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    by: integer('by').notNull(),
    done: integer('done').notNull().default(0),
    total: integer('total'),
    added: integer('added').notNull().default(0),
    revised: integer('revised').notNull().default(0),
    same: integer('same').notNull().default(0),
    message: text('message').notNull().default(''),
    detail: jsonb('detail').notNull().default({}),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.pullId] }),
    index('pull_by_source').on(table.clientId, table.source, table.startedAt),
  ],
)

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
    description: text('description'),
    quantity: text('quantity'),
    unitPrice: minor('unit_price'),
    location: text('location'),
    region: text('region'),
    customer: text('customer'),
    email: text('email'),
    shipTo: text('ship_to'),
    amount: minor('amount').notNull(),
    taxAmount: minor('tax_amount'),
    taxLabel: text('tax_label'),
    relatedId: text('related_id'),
    status: text('status').notNull(),
    availableAt: text('available_at'),
    url: text('url'),
    extra: jsonb('extra'),
    /** First 63 bits of a digest of everything above that the source said. */
    contentHash: minor('content_hash').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    // No foreign key to the source: its check of each row took a quarter of the insert. Lines come in under the lock of
    // their source's row, and their settlement, which is made with them, refers to it.
    check('activity_line_amount', safe('amount')),
    index('activity_by_settlement').on(table.clientId, table.source, table.settlementKey, table.currency),
    index('activity_by_order').on(table.clientId, table.orderId),
    index('activity_by_amount').on(table.clientId, table.amount),
    index('activity_by_date').on(table.clientId, table.source, table.localDate),
    index('activity_waiting').on(table.clientId, table.source).where(sql`status <> 'available'`),
    index('activity_reserve').on(table.clientId, table.source).where(sql`kind IN ('reserve_kept', 'reserve_released')`),
    index('activity_tie_out')
      .on(table.clientId, table.source)
      .where(sql`kind IN ('tender', 'tender_returned', 'collected', 'collected_back')`),
  ],
)

/** Labels of means of payment that channels report, and since when; what tie-out looks for a source behind. */
export const tenderLabel = pgTable(
  'tender_label',
  {
    clientId: clientId(),
    /** The channel that reports it. */
    channel: text('channel').notNull(),
    label: text('label').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.channel, table.label] }),
    foreignKey({ columns: [table.clientId, table.channel], foreignColumns: [source.clientId, source.source] }),
  ],
)

/** Which source a label of a means of payment stands for, where it is not that source's own key. */
export const gatewayLabel = pgTable(
  'gateway_label',
  {
    clientId: clientId(),
    label: text('label').notNull(),
    source: text('source').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.label] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)

/**
 * A channel's tender and a gateway's collection that are the same money: the collection books nothing. From one of the gateway's pulls
 * to another, so that what was booked before stays as it was seen then.
 */
export const tenderMatch = pgTable(
  'tender_match',
  {
    clientId: clientId(),
    gateway: text('gateway').notNull(),
    collectionLine: text('collection_line').notNull(),
    fromPull: integer('from_pull').notNull(),
    /** The pull that showed it to be none; null while it stands. */
    toPull: integer('to_pull'),
    channel: text('channel').notNull(),
    tenderLine: text('tender_line').notNull(),
    /** order, reference or amount_day_name. */
    by: text('by').notNull(),
    currency: currency().notNull(),
    /** Collected beyond what was tendered, minor units, plus in the seller's favour. */
    difference: minor('difference').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.gateway, table.collectionLine, table.fromPull] }),
    foreignKey({ columns: [table.clientId, table.gateway], foreignColumns: [source.clientId, source.source] }),
    foreignKey({ columns: [table.clientId, table.channel], foreignColumns: [source.clientId, source.source] }),
    uniqueIndex('collection_matched_once')
      .on(table.clientId, table.gateway, table.collectionLine)
      .where(sql`to_pull IS NULL`),
    index('match_differs').on(table.clientId).where(sql`to_pull IS NULL AND difference <> 0`),
    uniqueIndex('tender_matched_once').on(table.clientId, table.channel, table.tenderLine).where(sql`to_pull IS NULL`),
  ],
)

/** Revisions that a later one has replaced, and the pull that did; append-only. */
export const activitySuperseded = pgTable(
  'activity_superseded',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    lineId: text('line_id').notNull(),
    revision: integer('revision').notNull(),
    pullNo: integer('pull_no').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.lineId, table.revision] }),
    foreignKey({
      columns: [table.clientId, table.source, table.lineId, table.revision],
      foreignColumns: [activityLine.clientId, activityLine.source, activityLine.lineId, activityLine.revision],
    }),
  ],
)

/** What the processor says it holds, at the end of a local date. */
export const reportedBalance = pgTable(
  'reported_balance',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    currency: currency().notNull(),
    date: date('date').notNull(),
    available: minor('available').notNull(),
    pending: minor('pending').notNull().default(0),
    reserve: minor('reserve').notNull().default(0),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.currency, table.date] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
  ],
)

/** What somebody outside says that an account holds at the end of a local date: an agency, a till's list of gift cards. Debit positive. */
export const statedBalance = pgTable(
  'stated_balance',
  {
    clientId: clientId(),
    account: text('account').notNull(),
    currency: currency().notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.account, table.currency, table.date] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

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

// Mapping -----------------------------------------------------------------------------------------------------------

/** What is sold, by its SKU; routes and the cost of goods point here. */
export const item = pgTable(
  'item',
  {
    clientId: clientId(),
    code: text('code').notNull(),
    name: text('name').notNull(),
    otherNames: jsonb('other_names').notNull().default([]),
    account: text('account').notNull(),
    taxCode: text('tax_code'),
    /** Cost of one by first date, minor units of base. */
    costs: jsonb('costs').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.code] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.taxCode], foreignColumns: [taxCode.clientId, taxCode.code] }),
  ],
)

/** A client's rules, applied after the routes in the order of their positions. */
export const rule = pgTable(
  'rule',
  {
    clientId: clientId().references(() => client.clientId),
    ruleId: integer('rule_id').notNull(),
    position: integer('position').notNull(),
    conditions: jsonb('conditions').notNull(),
    actions: jsonb('actions').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.ruleId] }),
    uniqueIndex('rule_position').on(table.clientId, table.position),
  ],
)

export const route = pgTable(
  'route',
  {
    clientId: clientId(),
    routeId: integer('route_id').notNull(),
    kind: text('kind').notNull(),
    source: text('source'),
    category: text('category'),
    sku: text('sku'),
    location: text('location'),
    gateway: text('gateway'),
    method: text('method'),
    region: text('region'),
    taxLabel: text('tax_label'),
    from: date('from'),
    account: text('account'),
    item: text('item'),
    elsewhere: boolean('elsewhere').notNull().default(false),
    charge: boolean('charge').notNull().default(false),
    taxCode: text('tax_code'),
    segments: jsonb('segments').notNull().default({}),
    block: boolean('block').notNull().default(false),
    /** Why it points where it does, for a route that Culvert proposed. */
    reason: text('reason').notNull().default(''),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.routeId] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    foreignKey({ columns: [table.clientId, table.taxCode], foreignColumns: [taxCode.clientId, taxCode.code] }),
    foreignKey({ columns: [table.clientId, table.item], foreignColumns: [item.clientId, item.code] }),
  ],
)

/** Each saved state of routes, rules, items, tax codes and gateways' labels, whole, so that an entry's lines can be resolved again. Append-only. */
export const mapVersion = pgTable(
  'map_version',
  {
    clientId: clientId().references(() => client.clientId),
    version: integer('version').notNull(),
    at: now(),
    by: integer('by').notNull(),
    routes: jsonb('routes').notNull(),
    taxCodes: jsonb('tax_codes').notNull(),
    rules: jsonb('rules').notNull().default([]),
    items: jsonb('items').notNull().default([]),
    /** Source by label of a means of payment. */
    labels: jsonb('labels').notNull().default({}),
  },
  table => [primaryKey({ columns: [table.clientId, table.version] })],
)

// Settlements and entries -------------------------------------------------------------------------------------------

/** One settlement or business day as it stands now. Amounts in its currency, minor units. */
export const settlement = pgTable(
  'settlement',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    hasHead: boolean('has_head').notNull().default(false),
    periodStart: date('period_start'),
    periodEnd: date('period_end'),
    openingBalance: minor('opening_balance'),
    closingBalance: minor('closing_balance'),
    payoutDate: date('payout_date'),
    payoutReference: text('payout_reference'),
    url: text('url'),
    /** blocked, proposed, posted or set_aside. */
    state: text('state').notNull().default('blocked'),
    firstDate: date('first_date'),
    lastDate: date('last_date'),
    entryDate: date('entry_date'),
    /** Once posted: the last of its lines', entries' and transfers' dates. From then on it is no item of a proof. */
    settledBy: date('settled_by'),
    lines: integer('lines').notNull().default(0),
    gross: minor('gross').notNull().default(0),
    tax: minor('tax').notNull().default(0),
    fees: minor('fees').notNull().default(0),
    payout: minor('payout').notNull().default(0),
    balance: minor('balance').notNull().default(0),
    blocks: jsonb('blocks').notNull().default([]),
    mapVersion: integer('map_version').notNull().default(0),
    generation: integer('generation').notNull().default(0),
    /** Revised lines since it was posted, and what they come to. */
    corrections: integer('corrections').notNull().default(0),
    correctionAmount: minor('correction_amount').notNull().default(0),
    setAsideReason: text('set_aside_reason'),
    /** Somebody has said that its entry is no double of another in the ledger. */
    notDouble: boolean('not_double').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency] }),
    foreignKey({ columns: [table.clientId, table.source], foreignColumns: [source.clientId, source.source] }),
    index('settlement_by_date').on(table.clientId, table.entryDate),
    index('settlement_by_state').on(table.clientId, table.state, table.entryDate),
  ],
)

/** Something done in one act: posted, taken back, confirmed. Append-only. */
export const act = pgTable(
  'act',
  {
    clientId: clientId().references(() => client.clientId),
    actId: text('act_id').notNull(),
    sort: text('sort').notNull(),
    at: now(),
    by: integer('by').notNull(),
    note: text('note').notNull().default(''),
  },
  table => [primaryKey({ columns: [table.clientId, table.actId] }), index('act_by_time').on(table.clientId, table.at)],
)

/** Append-only. A generation above 1 refers to the reversal of the one before. */
export const posting = pgTable(
  'posting',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    previous: integer('previous').generatedAlwaysAs(sql`nullif(generation - 1, 0)`),
    actId: text('act_id').notNull(),
    mapVersion: integer('map_version').notNull(),
    /** Activity stored up to this pull of the source went in. */
    pullNo: integer('pull_no').notNull(),
    inputHash: text('input_hash').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency, table.generation] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency],
      foreignColumns: [settlement.clientId, settlement.source, settlement.key, settlement.currency],
    }),
    foreignKey({
      columns: [table.clientId, table.mapVersion],
      foreignColumns: [mapVersion.clientId, mapVersion.version],
    }),
  ],
)

/** Unique per posting. Append-only. The key of `posting.previous` points here. */
export const reversal = pgTable(
  'reversal',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    actId: text('act_id').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.key, table.currency, table.generation] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)

/** Revisions booked after the posting, up to `pullNo`; one per posting and pull. Append-only. */
export const correction = pgTable(
  'correction',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    generation: integer('generation').notNull(),
    pullNo: integer('pull_no').notNull(),
    actId: text('act_id').notNull(),
  },
  table => [
    primaryKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation, table.pullNo],
    }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
  ],
)

export const numberCounter = pgTable(
  'number_counter',
  {
    clientId: clientId().references(() => client.clientId),
    fiscalYear: integer('fiscal_year').notNull(),
    next: integer('next').notNull().default(1),
  },
  table => [primaryKey({ columns: [table.clientId, table.fiscalYear] })],
)

export const period = pgTable(
  'period',
  {
    clientId: clientId().references(() => client.clientId),
    month: char('month', { length: 7 }).notNull(),
    locked: boolean('locked').notNull().default(false),
  },
  table => [primaryKey({ columns: [table.clientId, table.month] })],
)

/** Append-only; balanced and sealed by a deferred check of its lines. Numbers have no gap within a fiscal year. */
export const entry = pgTable(
  'entry',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    date: date('date').notNull(),
    document: text('document').notNull(),
    source: text('source'),
    key: text('key'),
    generation: integer('generation'),
    currency: currency().notNull(),
    lineCount: integer('line_count').notNull(),
    payoutLine: text('payout_line'),
    memo: text('memo').notNull().default(''),
    actId: text('act_id').notNull(),
    reversesYear: integer('reverses_year'),
    reversesNumber: integer('reverses_number'),
    postedAt: moment('posted_at').notNull().defaultNow(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number] }),
    unique('entry_sealed').on(
      table.clientId,
      table.fiscalYear,
      table.number,
      table.lineCount,
      table.date,
      table.currency,
    ),
    unique('entry_reverses').on(table.clientId, table.reversesYear, table.reversesNumber),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.key, table.currency, table.generation],
      foreignColumns: [posting.clientId, posting.source, posting.key, posting.currency, posting.generation],
    }),
    foreignKey({
      columns: [table.clientId, table.reversesYear, table.reversesNumber],
      foreignColumns: [table.clientId, table.fiscalYear, table.number],
    }),
    check('entry_has_lines', sql`line_count > 0`),
    index('entry_by_settlement').on(table.clientId, table.source, table.key, table.currency),
    index('entry_by_date').on(table.clientId, table.date),
    index('entry_by_hand').on(table.clientId).where(sql`source IS NULL`),
  ],
)

/** Append-only. Plus is a debit; minor units of the entry's currency, and of the client's base. */
export const entryLine = pgTable(
  'entry_line',
  {
    clientId: clientId(),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    lineNo: integer('line_no').notNull(),
    lineCount: integer('line_count').notNull(),
    date: date('date').notNull(),
    currency: currency().notNull(),
    account: text('account').notNull(),
    amount: minor('amount').notNull(),
    baseAmount: minor('base_amount').notNull(),
    taxCode: text('tax_code').notNull().default(''),
    segments: text('segments').notNull().default(''),
    /** With the posting's map version, the way back to its activity lines. */
    buckets: jsonb('buckets').notNull().default([]),
    routes: jsonb('routes').notNull().default([]),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.fiscalYear, table.number, table.lineNo] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number, table.lineCount, table.date, table.currency],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number, entry.lineCount, entry.date, entry.currency],
    }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
    check('entry_line_no', sql`line_no BETWEEN 1 AND line_count`),
    check('entry_line_amount', safe('amount')),
    check('entry_line_base_amount', safe('base_amount')),
    index('register').on(table.clientId, table.account, table.date, table.fiscalYear, table.number, table.lineNo),
    index('entry_line_by_amount').on(table.clientId, table.amount),
  ],
)

/** Balances: kept by the transaction that posts, so that reports never add up the lines. */
export const accountTotal = pgTable(
  'account_total',
  {
    clientId: clientId(),
    account: text('account').notNull(),
    taxCode: text('tax_code').notNull(),
    segments: text('segments').notNull(),
    currency: currency().notNull(),
    day: date('day').notNull(),
    debit: minor('debit').notNull(),
    credit: minor('credit').notNull(),
    baseDebit: minor('base_debit').notNull(),
    baseCredit: minor('base_credit').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.account, table.taxCode, table.segments, table.currency, table.day] }),
    foreignKey({ columns: [table.clientId, table.account], foreignColumns: [account.clientId, account.code] }),
  ],
)

// Bank --------------------------------------------------------------------------------------------------------------

/** A posted transfer: money that left a clearing account for a bank account (plus) or came from it (minus). */
export const transfer = pgTable(
  'transfer',
  {
    clientId: clientId(),
    source: text('source').notNull(),
    payoutLine: text('payout_line').notNull(),
    generation: integer('generation').notNull(),
    key: text('key').notNull(),
    currency: currency().notNull(),
    bankAccount: text('bank_account').notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
    reference: text('reference'),
    fiscalYear: integer('fiscal_year').notNull(),
    number: integer('number').notNull(),
    reversed: boolean('reversed').notNull().default(false),
    paired: boolean('paired').notNull().default(false),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.source, table.payoutLine, table.generation] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
    index('transfer_by_date').on(table.clientId, table.bankAccount, table.date),
    index('transfer_open').on(table.clientId, table.bankAccount, table.date).where(sql`NOT paired AND NOT reversed`),
  ],
)

/** Append-only: what a bank statement says. Plus is money in, minor units. */
export const bankLine = pgTable(
  'bank_line',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    lineId: text('line_id').notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
    currency: currency().notNull(),
    description: text('description').notNull().default(''),
    reference: text('reference').notNull().default(''),
    pullId: text('pull_id').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount, table.lineId] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
    check('bank_line_amount', safe('amount')),
    index('bank_line_by_date').on(table.clientId, table.bankAccount, table.date),
    index('bank_line_by_amount').on(table.clientId, table.amount),
  ],
)

/** Bank lines that are not paired yet; a row goes when its line is paired and comes back when that is undone. */
export const openBankLine = pgTable(
  'open_bank_line',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    lineId: text('line_id').notNull(),
    date: date('date').notNull(),
    amount: minor('amount').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount, table.lineId] }),
    foreignKey({
      columns: [table.clientId, table.bankAccount, table.lineId],
      foreignColumns: [bankLine.clientId, bankLine.bankAccount, bankLine.lineId],
    }),
  ],
)

/** What was decided about bank lines and transfers: that they are the same money, where else a line belongs, or that they are left out. */
export const pairing = pgTable(
  'pairing',
  {
    clientId: clientId(),
    pairingId: text('pairing_id').notNull(),
    bankAccount: text('bank_account').notNull(),
    /** paired, coded (a bank line straight to an account) or set_aside. */
    sort: text('sort').notNull().default('paired'),
    /** certain, likely, possible, or by_hand where a person chose the members. */
    sureness: text('sureness').notNull(),
    evidence: jsonb('evidence').notNull().default({}),
    /** Deposited less paid out, minor units: what its entry books as a fee or an exchange difference. */
    difference: minor('difference').notNull().default(0),
    /** Why it was set aside, or what was written beside a coded line. */
    note: text('note').notNull().default(''),
    /** The entry that it posted: a difference, or a coded line. */
    fiscalYear: integer('fiscal_year'),
    number: integer('number'),
    actId: text('act_id').notNull(),
    undoneBy: text('undone_by'),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.pairingId] }),
    foreignKey({ columns: [table.clientId, table.actId], foreignColumns: [act.clientId, act.actId] }),
    foreignKey({
      columns: [table.clientId, table.fiscalYear, table.number],
      foreignColumns: [entry.clientId, entry.fiscalYear, entry.number],
    }),
    index('pairing_by_entry').on(table.clientId, table.fiscalYear, table.number),
  ],
)

export const pairedBankLine = pgTable(
  'paired_bank_line',
  {
    clientId: clientId(),
    pairingId: text('pairing_id').notNull(),
    bankAccount: text('bank_account').notNull(),
    lineId: text('line_id').notNull(),
    active: boolean('active').notNull().default(true),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.pairingId, table.bankAccount, table.lineId] }),
    foreignKey({ columns: [table.clientId, table.pairingId], foreignColumns: [pairing.clientId, pairing.pairingId] }),
    foreignKey({
      columns: [table.clientId, table.bankAccount, table.lineId],
      foreignColumns: [bankLine.clientId, bankLine.bankAccount, bankLine.lineId],
    }),
    uniqueIndex('bank_line_paired_once').on(table.clientId, table.bankAccount, table.lineId).where(sql`active`),
  ],
)

export const pairedTransfer = pgTable(
  'paired_transfer',
  {
    clientId: clientId(),
    pairingId: text('pairing_id').notNull(),
    source: text('source').notNull(),
    payoutLine: text('payout_line').notNull(),
    generation: integer('generation').notNull(),
    active: boolean('active').notNull().default(true),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.pairingId, table.source, table.payoutLine, table.generation] }),
    foreignKey({ columns: [table.clientId, table.pairingId], foreignColumns: [pairing.clientId, pairing.pairingId] }),
    foreignKey({
      columns: [table.clientId, table.source, table.payoutLine, table.generation],
      foreignColumns: [transfer.clientId, transfer.source, transfer.payoutLine, transfer.generation],
    }),
    uniqueIndex('transfer_paired_once')
      .on(table.clientId, table.source, table.payoutLine, table.generation)
      .where(sql`active`),
  ],
)
