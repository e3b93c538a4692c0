import { addDays, isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { negateMinor } from '../money/minor.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankDetails, BankLine } from './bankRow.ts'
import type { FaultList } from './fault.ts'
import { bankLineId, type StatementHead, StatementSum } from './statementHead.ts'

/** What an XML parser reports, in order. Names without prefix. */
export type XmlEvent =
  | { readonly type: 'open'; readonly name: string; readonly attributes: Readonly<Record<string, string>> }
  | { readonly type: 'text'; readonly text: string }
  | { readonly type: 'close'; readonly name: string }

export interface CamtReader {
  /** Takes the next event; `row` is the line of the file, for faults. */
  take(event: XmlEvent, row: number): void
  /** Looks whether the document was a statement, once it has ended, and up to which local date each account is told. */
  end(row: number): readonly StatementReach[]
}

/** Up to which local date a statement tells all of an account, however quiet its last days were. */
export interface StatementReach {
  readonly bankAccount: string
  readonly to: string
}

/** Elements within each other, and characters of one entry, beyond which a file is no statement that anybody wrote. */
const mostDepth = 60
const mostEntryText = 100_000

interface OpenEntry {
  amount: string
  currency: string
  side: string
  date: string
  valueDate: string
  /** Of the bank that keeps the account, and the entry's own. */
  servicerReference: string
  entryReference: string
  references: string[]
  texts: string[]
  /** Characters of both. */
  length: number
  status: string
  originals: Money[]
  charges: Money[]
}

/** An amount as it is written, with its currency. */
interface Money {
  readonly amount: string
  readonly currency: string
}

const emptyEntry = (): OpenEntry => ({
  amount: '',
  currency: '',
  side: '',
  date: '',
  valueDate: '',
  servicerReference: '',
  entryReference: '',
  references: [],
  texts: [],
  length: 0,
  status: 'BOOK',
  originals: [],
  charges: [],
})

interface OpenStatement {
  number: string
  account: string
  from: string
  to: string
  currency: string
  sort: string
  subSort: string
  amount: string
  amountCurrency: string
  side: string
  balanceDate: string
  /** Day of the balance that it ends with; empty where none is told. */
  closedOn: string
  /** Ends with an intermediate balance: a further page goes on. */
  goesOn: boolean
  opening: number | null
  closing: number | null
  sum: StatementSum
}

const emptyStatement = (): OpenStatement => ({
  ...{ number: '', account: '', from: '', to: '', currency: '', sort: '', subSort: '', amount: '' },
  ...{ amountCurrency: '', side: '', balanceDate: '', closedOn: '', goesOn: false, opening: null, closing: null },
  sum: new StatementSum(),
})

/** Messages, and what each holds per account: statements of whole days, reports within a day, notifications of single entries. */
const messages: Readonly<Record<string, string>> = {
  BkToCstmrStmt: 'Stmt',
  BkToCstmrAcctRpt: 'Rpt',
  BkToCstmrDbtCdtNtfctn: 'Ntfctn',
}
const holders = new Set(Object.values(messages))

/**
 * Reads ISO 20022 camt.053, camt.052 and camt.054 (versions 001.02 to 001.12) event by event, so that a long statement is never held as a
 * tree. Only camt.053 tells whole days, and gives `statement` its balances. An entry (Ntry) becomes a bank line, handed to `found`; booked ones only, in the
 * direction that CdtDbtInd says: RvslInd tells that an entry undoes another, and turns nothing. The account is its IBAN or other id. Elements nested too deep, and
 * an entry of too much text, are faults: what they cost would grow with the square of the file.
 */
export const camtReader = (
  faults: FaultList,
  found: (line: BankLine, row: number) => void,
  statement: (head: StatementHead, row: number) => void = () => undefined,
): CamtReader => {
  const path: string[] = []
  const reaches = new Map<string, string>()
  let open = emptyStatement()
  /** Pages of a statement that goes on. */
  let before: OpenStatement | null = null
  let entry: OpenEntry | null = null
  let text = ''
  let currency = ''
  let isStatement = false
  const ids = new Map<string, number>()

  const tell = (ended: OpenStatement, row: number): void => {
    const until = [ended.closedOn, ended.to, ended.sum.last].filter(Boolean).sort().at(-1)
    if (ended.account === '' || until === undefined) return
    const known = reaches.get(ended.account) ?? ''
    reaches.set(ended.account, until > known ? until : known)
    if (ended.currency !== '') statement(headOf(ended, until), row)
  }

  const endStatement = (row: number): void => {
    const whole = before && before.account === open.account ? joined(before, open) : open
    if (before && whole === open) tell(before, row)
    before = whole.goesOn && whole.closing === null ? whole : null
    if (!before) tell(whole, row)
  }

  const close = (name: string, row: number): void => {
    const parent = path.at(-1) ?? ''
    const value = text.trim()
    if (!entry) {
      readHeadField(open, { name, parent, value, path, faults, row })
      if (name === 'Stmt') endStatement(row)
      return
    }
    if (name === 'Ntry') {
      const line = finishEntry(entry, { account: open.account, row, faults, ids })
      if (line) {
        open.sum.add(line)
        found(line, row)
      }
      entry = null
    } else {
      entry.length += value.length
      if (entry.length > mostEntryText) faults.add({ row, column: 'Ntry', value: '', code: 'record_too_long' })
      else readEntryField(entry, { name, parent, value, path, currency })
    }
  }
  return {
    take: (event, row) => {
      if (event.type === 'text') {
        text += event.text
        return
      }
      if (event.type === 'open') {
        text = ''
        if (Object.hasOwn(messages, event.name)) isStatement = true
        if (holders.has(event.name)) open = emptyStatement()
        if (event.name === 'Amt') currency = event.attributes.Ccy ?? ''
        if (event.name === 'Amt' && path.at(-1) === 'Bal') open.amountCurrency = currency
        if (event.name === 'Ntry') entry = emptyEntry()
        if (entry && event.name === 'Amt' && path.at(-1) === 'Ntry') entry.currency = currency
        path.push(event.name)
        if (path.length > mostDepth) faults.add({ row, column: event.name, value: '', code: 'too_deep' })
        return
      }
      path.pop()
      close(event.name, row)
      text = ''
    },
    end: row => {
      if (before) tell(before, row)
      if (!isStatement) faults.add({ row, column: null, value: '', code: 'not_a_statement' })
      return [...reaches].map(([bankAccount, to]) => ({ bankAccount, to }))
    },
  }
}

/** Two pages of one statement as one. */
const joined = (first: OpenStatement, next: OpenStatement): OpenStatement => ({
  ...next,
  number: first.number || next.number,
  from: [first.from, next.from].filter(Boolean).sort()[0] ?? '',
  opening: first.opening ?? next.opening,
  currency: next.currency || first.currency,
  sum: first.sum.and(next.sum),
})

/** The local day of a date or an instant by its own clock; empty where it is neither. */
const dayOf = (value: string): string => (isDate(value.slice(0, 10)) ? value.slice(0, 10) : '')

/** The last day of a period that ends at an instant: midnight ends the day before. */
const lastDayOf = (value: string): string => {
  const day = dayOf(value)
  return day !== '' && /^T00:00(:00(\.0+)?)?/.test(value.slice(10)) ? addDays(day, -1) : day
}

// OPBD and PRCD are the booked balance that a statement begins with, CLBD the one that it ends with (ISO 20022 external code set of balance types). Forward
// (FWAV), available and interim (ITBD) balances are neither; one of sub-type INTM stands at the end of a page, or at the beginning of the next.
const readHeadField = (
  open: OpenStatement,
  at: {
    readonly name: string
    readonly parent: string
    readonly value: string
    readonly path: readonly string[]
    readonly faults: FaultList
    readonly row: number
  },
): void => {
  const { name, parent, value, path } = at
  const inHolder = path.some(one => holders.has(one))
  const ofAccount = path.includes('Acct') && inHolder
  if (ofAccount && (name === 'IBAN' || (name === 'Id' && parent === 'Othr')) && value !== '') open.account = value
  if (holders.has(parent) && (name === 'ElctrncSeqNb' || name === 'LglSeqNb') && open.number === '') open.number = value
  if (parent === 'FrToDt' && name === 'FrDtTm') open.from = dayOf(value)
  if (parent === 'FrToDt' && name === 'ToDtTm') open.to = lastDayOf(value)
  if (parent === 'Dt' && (name === 'Dt' || name === 'DtTm') && path.at(-2) === 'Bal') open.balanceDate = dayOf(value)
  if (parent === 'SubTp' && name === 'Cd' && path.includes('Bal')) open.subSort = value
  if (parent === 'CdOrPrtry' && name === 'Cd' && path.includes('Bal')) open.sort = value
  if (parent !== 'Bal' && name !== 'Bal') return
  if (name === 'Amt') open.amount = value
  if (name === 'CdtDbtInd') open.side = value
  if (name === 'Bal') endBalance(open, at)
}

const endBalance = (
  open: OpenStatement,
  { faults, row }: { readonly faults: FaultList; readonly row: number },
): void => {
  const { sort, subSort, amount, amountCurrency, side, balanceDate } = open
  Object.assign(open, { sort: '', subSort: '', amount: '', amountCurrency: '', side: '', balanceDate: '' })
  if (sort !== 'OPBD' && sort !== 'PRCD' && sort !== 'CLBD') return
  if (!isCurrency(amountCurrency))
    return void faults.add({ row, column: 'Bal/Amt/@Ccy', value: amountCurrency, code: 'unknown_currency' })
  const parsed = parseAmount(amount, amountCurrency)
  if (!parsed.ok) return void faults.add({ row, column: 'Bal/Amt', value: amount, code: parsed.code })
  open.currency = amountCurrency
  const minor = side === 'DBIT' ? 0 - parsed.minor : parsed.minor
  if (sort === 'CLBD' && subSort === 'INTM') open.goesOn = true
  else if (sort === 'CLBD') Object.assign(open, { closing: minor, closedOn: balanceDate })
  else if (sort === 'OPBD' || open.opening === null) open.opening = minor
}

const headOf = (open: OpenStatement, until: string): StatementHead => {
  const from = [open.from, open.sum.first].filter(date => date !== '').sort()[0] ?? until
  return {
    bankAccount: open.account,
    number: open.number,
    currency: open.currency,
    from: from < until ? from : until,
    to: until,
    opening: open.opening,
    closing: open.closing,
    lines: open.sum.lines,
    sum: open.sum.sum,
  }
}

const readEntryField = (
  entry: OpenEntry,
  at: {
    readonly name: string
    readonly parent: string
    readonly value: string
    readonly path: readonly string[]
    /** Of the amount that was read last. */
    readonly currency: string
  },
): void => {
  const { name, parent, value, path, currency } = at
  if (value === '') return
  if (parent === 'Ntry') {
    if (name === 'Amt') entry.amount = value
    if (name === 'CdtDbtInd') entry.side = value
    if (name === 'Sts') entry.status = value
    if (name === 'AcctSvcrRef') entry.servicerReference = value
    if (name === 'NtryRef') entry.entryReference = value
    if (name === 'AddtlNtryInf') entry.texts.push(value)
  }
  if (parent === 'Sts' && name === 'Cd') entry.status = value
  if (parent === 'BookgDt' && (name === 'Dt' || name === 'DtTm')) entry.date = dayOf(value) || value
  if (parent === 'ValDt' && (name === 'Dt' || name === 'DtTm')) entry.valueDate = dayOf(value)
  if (parent === 'RmtInf' && name === 'Ustrd') entry.texts.push(value)
  if (parent === 'Refs' && name === 'EndToEndId' && value !== 'NOTPROVIDED') entry.references.push(value)
  if (parent === 'CdtrRefInf' && name === 'Ref') entry.references.push(value)
  // Before charges and exchange: what the payer instructed, of the entry or of its one transaction.
  if (name === 'Amt' && parent === 'InstdAmt') entry.originals.push({ amount: value, currency })
  const ofCharges = path.includes('Chrgs')
  if (name === 'Amt' && ofCharges && (parent === 'Rcrd' || parent === 'Chrgs'))
    entry.charges.push({ amount: value, currency })
}

/** What is kept beside an amount: what was instructed, where it is one amount other than the booked one; and all charges. */
const detailsOf = (entry: OpenEntry, amount: number): BankDetails | undefined => {
  const read = (all: readonly Money[]) =>
    all.flatMap(money => {
      if (!isCurrency(money.currency)) return []
      const parsed = parseAmount(money.amount, money.currency)
      return parsed.ok ? [{ amount: Math.abs(parsed.minor), currency: money.currency }] : []
    })
  const [original, another] = read(entry.originals)
  const charges = read(entry.charges).filter(charge => charge.amount !== 0)
  const isOther = original && !another && (original.currency !== entry.currency || original.amount !== Math.abs(amount))
  if (!isOther && charges.length === 0) return undefined
  return { ...(isOther && { original }), ...(charges.length > 0 && { charges }) }
}

/** Digits by which banks number the entries of one statement: they begin anew with the next. */
const countedReference = /^\d{1,6}$/

const finishEntry = (
  entry: OpenEntry,
  context: { account: string; row: number; faults: FaultList; ids: Map<string, number> },
): BankLine | null => {
  const { row, faults } = context
  if (entry.status !== 'BOOK') return null
  const fault = (column: string, value: string, code: Parameters<FaultList['add']>[0]['code']): null => {
    faults.add({ row, column, value, code })
    return null
  }
  if (!isCurrency(entry.currency)) return fault('Amt/@Ccy', entry.currency, 'unknown_currency')
  const parsed = parseAmount(entry.amount, entry.currency)
  if (!parsed.ok) return fault('Amt', entry.amount, parsed.code)
  if (entry.side !== 'CRDT' && entry.side !== 'DBIT') return fault('CdtDbtInd', entry.side, 'unlike_sign')
  const date = entry.date || entry.valueDate
  if (!isDate(date)) return fault('BookgDt', date, 'not_a_date')
  if (context.account === '') return fault('Acct/Id', '', 'empty')
  const { entryReference } = entry
  const own = countedReference.test(entryReference) ? `${date} ${entryReference}` : entryReference
  const amount = entry.side === 'CRDT' ? parsed.minor : negateMinor(parsed.minor)
  const details = detailsOf(entry, amount)
  const line = {
    date,
    bankAccount: context.account,
    amount,
    currency: entry.currency,
    description: entry.texts.join(' ').replace(/\s+/g, ' ').trim(),
    reference: [...new Set(entry.references)].join(' '),
    ...(details && { details }),
  }
  return { ...line, lineId: bankLineId(entry.servicerReference || own, line, context.ids) }
}
