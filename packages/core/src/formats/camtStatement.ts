import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankLine } from './bankRow.ts'
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
  references: string[]
  texts: string[]
  /** Characters of both. */
  length: number
  status: string
  reversal: boolean
}

const emptyEntry = (): OpenEntry => ({
  amount: '',
  currency: '',
  side: '',
  date: '',
  references: [],
  texts: [],
  length: 0,
  status: 'BOOK',
  reversal: false,
})

interface OpenStatement {
  number: string
  account: string
  from: string
  to: string
  currency: string
  sort: string
  amount: string
  amountCurrency: string
  side: string
  opening: number | null
  closing: number | null
  sum: StatementSum
}

const emptyStatement = (): OpenStatement => ({
  ...{ number: '', account: '', from: '', to: '', currency: '', sort: '', amount: '', amountCurrency: '', side: '' },
  ...{ opening: null, closing: null },
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
 * tree. Only camt.053 tells whole days, and gives `statement` its balances. An entry (Ntry) becomes a bank line, handed to `found`; booked ones only. The account is its IBAN or other id. Elements nested too deep, and
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
  let until = ''
  let entry: OpenEntry | null = null
  let text = ''
  let isStatement = false
  const ids = new Map<string, number>()

  const close = (name: string, row: number): void => {
    const parent = path.at(-1) ?? ''
    const value = text.trim()
    if (!entry) {
      readHeadField(open, { name, parent, value, path, faults, row })
      if (parent === 'FrToDt' && name === 'ToDtTm' && isDate(value.slice(0, 10))) until = value.slice(0, 10)
      if (parent === 'Dt' && name === 'Dt' && path.at(-2) === 'Bal' && isDate(value) && value > until) until = value
      if (name === 'Stmt' && open.account !== '' && until !== '') {
        reaches.set(
          open.account,
          until > (reaches.get(open.account) ?? '') ? until : (reaches.get(open.account) as string),
        )
        if (open.currency !== '') statement(headOf(open, until), row)
        until = ''
      }
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
      else readEntryField(entry, { name, parent, value, grandParent: path.at(-2) ?? '' })
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
        if (event.name === 'Amt' && path.at(-1) === 'Bal') open.amountCurrency = event.attributes.Ccy ?? ''
        if (event.name === 'Ntry') entry = emptyEntry()
        if (entry && event.name === 'Amt' && path.at(-1) === 'Ntry') entry.currency = event.attributes.Ccy ?? ''
        path.push(event.name)
        if (path.length > mostDepth) faults.add({ row, column: event.name, value: '', code: 'too_deep' })
        return
      }
      path.pop()
      close(event.name, row)
      text = ''
    },
    end: row => {
      if (!isStatement) faults.add({ row, column: null, value: '', code: 'not_a_statement' })
      return [...reaches].map(([bankAccount, to]) => ({ bankAccount, to }))
    },
  }
}

// OPBD and PRCD are the booked balance that a statement begins with, CLBD the one that it ends with (ISO 20022 external code set of balance types).
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
  if (parent === 'FrToDt' && name === 'FrDtTm' && isDate(value.slice(0, 10))) open.from = value.slice(0, 10)
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
  const { sort, amount, amountCurrency, side } = open
  Object.assign(open, { sort: '', amount: '', amountCurrency: '', side: '' })
  if (sort !== 'OPBD' && sort !== 'PRCD' && sort !== 'CLBD') return
  if (!isCurrency(amountCurrency))
    return void faults.add({ row, column: 'Bal/Amt/@Ccy', value: amountCurrency, code: 'unknown_currency' })
  const parsed = parseAmount(amount, amountCurrency)
  if (!parsed.ok) return void faults.add({ row, column: 'Bal/Amt', value: amount, code: parsed.code })
  open.currency = amountCurrency
  const minor = side === 'DBIT' ? 0 - parsed.minor : parsed.minor
  if (sort === 'CLBD') open.closing = minor
  else if (sort === 'OPBD' || open.opening === null) open.opening = minor
}

const headOf = (open: OpenStatement, until: string): StatementHead => {
  const from = [open.from, open.sum.first].filter(date => date !== '').sort()[0] ?? until
  return {
    bankAccount: open.account,
    number: open.number,
    currency: open.currency,
    from: from < until ? from : until,
    to: open.sum.last > until ? open.sum.last : until,
    opening: open.opening,
    closing: open.closing,
    lines: open.sum.lines,
    sum: open.sum.sum,
  }
}

const readEntryField = (
  entry: OpenEntry,
  at: { name: string; parent: string; grandParent: string; value: string },
): void => {
  const { name, parent, value } = at
  if (parent === 'Ntry') {
    if (name === 'Amt') entry.amount = value
    if (name === 'CdtDbtInd') entry.side = value
    if (name === 'Sts' && value !== '') entry.status = value
    if (name === 'RvslInd') entry.reversal = value === 'true'
    if (name === 'AcctSvcrRef') entry.references.unshift(value)
    if (name === 'AddtlNtryInf') entry.texts.push(value)
  }
  if (parent === 'Sts' && name === 'Cd') entry.status = value
  if (parent === 'BookgDt' && (name === 'Dt' || name === 'DtTm')) entry.date = value.slice(0, 10)
  if (parent === 'RmtInf' && name === 'Ustrd') entry.texts.push(value)
  if (parent === 'Refs' && name === 'EndToEndId' && value !== 'NOTPROVIDED') entry.references.push(value)
}

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
  if (!isDate(entry.date)) return fault('BookgDt', entry.date, 'not_a_date')
  if (context.account === '') return fault('Acct/Id', '', 'empty')
  const into = (entry.side === 'CRDT') !== entry.reversal
  const [first = '', ...rest] = entry.references
  const description = entry.texts.join(' ').replace(/\s+/g, ' ').trim()
  const line = {
    date: entry.date,
    bankAccount: context.account,
    amount: into ? parsed.minor : -parsed.minor,
    currency: entry.currency,
    description,
    reference: rest.join(' ') || '',
  }
  return { ...line, lineId: bankLineId(first, line, context.ids) }
}
