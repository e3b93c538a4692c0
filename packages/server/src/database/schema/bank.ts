import { sql } from 'drizzle-orm'
import {
  boolean,
  check,
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { account } from './books.ts'
import { clientId, currency, minor, oneOf, safe } from './columns.ts'
import { entry } from './entries.ts'
import { act } from './settlements.ts'

// Transfers, bank lines, and what was decided about them.

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

/** Up to which local date a bank account's statement is known, however quiet it was. */
export const bankReach = pgTable(
  'bank_reach',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    readTo: date('read_to').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
  ],
)

/** What a bank has granted this client for one of its accounts. Without one, nothing is asked of any bank. */
export const bankGrant = pgTable(
  'bank_grant',
  {
    clientId: clientId(),
    bankAccount: text('bank_account').notNull(),
    address: text('address').notNull(),
    credentials: jsonb('credentials').notNull(),
  },
  table => [
    primaryKey({ columns: [table.clientId, table.bankAccount] }),
    foreignKey({ columns: [table.clientId, table.bankAccount], foreignColumns: [account.clientId, account.code] }),
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
    check('pairing_sort', oneOf('sort', ['paired', 'coded', 'set_aside'])),
    check('pairing_sureness', oneOf('sureness', ['certain', 'likely', 'possible', 'by_hand'])),
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
