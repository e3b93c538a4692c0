import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankLine } from './bankRow.ts'
import type { FaultList } from './fault.ts'

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

/**
 * Reads ISO 20022 camt.053 (any version from 001.02 on) event by event, so that a long statement is never held as a
 * tree. An entry (Ntry) becomes a bank line, handed to `found`; booked ones only. The account is its IBAN or other id. Elements nested too deep, and
 * an entry of too much text, are faults: what they cost would grow with the square of the file.
 */
export const camtReader = (faults: FaultList, found: (line: BankLine, row: number) => void): CamtReader => {
  const path: string[] = []
  const reaches = new Map<string, string>()
  let account = ''
  let until = ''
  let entry: OpenEntry | null = null
  let text = ''
  let isStatement = false
  const ids = new Map<string, number>()

  const close = (name: string, row: number): void => {
    const parent = path.at(-1) ?? ''
    const value = text.trim()
    if (!entry) {
      const atAccount = path.includes('Acct') && path.includes('Stmt')
      if (atAccount && (name === 'IBAN' || (name === 'Id' && parent === 'Othr')) && value !== '') account = value
      if (parent === 'FrToDt' && name === 'ToDtTm' && isDate(value.slice(0, 10))) until = value.slice(0, 10)
      if (parent === 'Dt' && name === 'Dt' && path.at(-2) === 'Bal' && isDate(value) && value > until) until = value
      if (name === 'Stmt' && account !== '' && until !== '') {
        reaches.set(account, until > (reaches.get(account) ?? '') ? until : (reaches.get(account) as string))
        until = ''
      }
      return
    }
    if (name === 'Ntry') {
      const line = finishEntry(entry, { account, row, faults, ids })
      if (line) found(line, row)
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
        if (event.name === 'BkToCstmrStmt') isStatement = true
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
  return { ...line, lineId: lineIdOf(first, line, context.ids) }
}

// Without the bank's own reference, alike lines of a day are told apart by their place among them; so are lines that
// share a reference, as the parts of a batch do.
const lineIdOf = (reference: string, line: Omit<BankLine, 'lineId'>, ids: Map<string, number>): string => {
  const key = reference === '' ? `${line.date} ${line.amount} ${line.description}` : reference
  const count = (ids.get(key) ?? 0) + 1
  ids.set(key, count)
  return reference !== '' && count === 1 ? reference : `${key} ${count}`
}
