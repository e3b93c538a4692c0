import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { convertMinor } from '../money/exchange.ts'
import { type Fraction, parseFraction } from '../money/fraction.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankCorrection, BankLine } from './bankRow.ts'
import type { XmlEvent } from './camtStatement.ts'
import type { FaultCode, FaultList } from './fault.ts'
import { bankLineId, type StatementHead, StatementSum } from './statementHead.ts'

export interface OfxReader {
  /** Takes the next event, of a parser of XML or of `sgmlEvents`; `row` is the line of the file. */
  take(event: XmlEvent, row: number): void
  end(row: number): void
}

interface Told {
  readonly found: (line: BankLine, row: number) => void
  readonly statement: (head: StatementHead, row: number) => void
  /** A line, of this file or an earlier one, is replaced by another that is handed to `found`, or deleted. */
  readonly correction?: (correction: BankCorrection, row: number) => void
}

interface OpenStatement {
  currency: string
  account: string
  from: string
  to: string
  balance: string
  balanceDate: string
  sum: StatementSum
  /** Sums by day, and lines by their id. */
  readonly days: Map<string, number>
  readonly amounts: Map<string, { readonly date: string; readonly amount: number }>
  /** A line of an earlier file is corrected. */
  correctsBefore: boolean
}

const emptyStatement = (): OpenStatement => ({
  ...{ currency: '', account: '', from: '', to: '', balance: '', balanceDate: '', correctsBefore: false },
  ...{ sum: new StatementSum(), days: new Map(), amounts: new Map() },
})

const mostFieldText = 10_000

/**
 * Reads OFX, versions 1 and 2 alike (OFX 2.2, chapters 11.4 and 11.12), event by event: bank and card statements. Elements need no end: one that holds text ends with
 * whatever comes next. A file states no opening balance; its ledger balance closes the day that it is of, and what the list has of later days comes after it.
 * A line in another currency than the account's (CURRENCY) is turned into it at the rate that it tells; of one that the bank turned itself (ORIGCURRENCY) the
 * former amount is kept beside it. CORRECTFITID with CORRECTACTION replaces or deletes a line.
 */
export const ofxReader = (faults: FaultList, { found, statement, correction }: Told): OfxReader => {
  const ids = new Map<string, Map<string, number>>()
  let handedOver = 0
  let open: OpenStatement | null = null
  let line: Map<string, string> | null = null
  let lineRow = 0
  let inAccount = false
  let inBalance = false
  let inPayee = false
  /** The currency of a line that is being read. */
  let inCurrency: '' | 'CURRENCY' | 'ORIGCURRENCY' = ''
  let leaf = ''
  let text = ''

  const fault = (row: number, column: string, value: string, code: FaultCode): void =>
    faults.add({ row, column, value, code })

  const endLine = (): void => {
    const fields = line
    line = null
    inPayee = false
    if (!fields || !open) return
    const field = (name: string) => fields.get(name) ?? ''
    if (!isCurrency(open.currency)) return void fault(lineRow, 'CURDEF', open.currency, 'unknown_currency')
    if (open.account === '') return void fault(lineRow, 'ACCTID', '', 'empty')
    const date = dayOf(field('DTPOSTED'))
    if (date === null) return void fault(lineRow, 'DTPOSTED', field('DTPOSTED'), 'not_a_date')
    const money = moneyOf(fields, open.currency)
    if (!money.ok) return void fault(lineRow, money.column, money.value, money.code)
    if (field('CORRECTFITID') !== '' && !endCorrection(open, field)) return
    const known = ids.get(open.account) ?? new Map<string, number>()
    ids.set(open.account, known)
    const one = {
      date,
      bankAccount: open.account,
      amount: money.amount,
      currency: open.currency,
      description: [field('NAME'), field('MEMO')].filter(Boolean).join(' ').replace(/\s+/g, ' ').trim(),
      reference: [field('CHECKNUM'), field('REFNUM')].filter(Boolean).join(' '),
      ...(money.original && { details: { original: money.original } }),
    }
    const whole = { ...one, lineId: bankLineId(field('FITID'), one, known) }
    open.sum.add(whole)
    open.days.set(date, (open.days.get(date) ?? 0) + money.amount)
    open.amounts.set(whole.lineId, { date, amount: money.amount })
    handedOver++
    found(whole, lineRow)
  }

  /** Tells of a correction. @returns whether the line that makes it is one itself */
  const endCorrection = (of: OpenStatement, field: (name: string) => string): boolean => {
    const action = field('CORRECTACTION')
    if (action !== 'REPLACE' && action !== 'DELETE') {
      fault(lineRow, 'CORRECTACTION', action, 'unknown_action')
      return false
    }
    const lineId = field('CORRECTFITID')
    const corrected = of.amounts.get(lineId)
    if (corrected) {
      of.sum.sum -= corrected.amount
      of.sum.lines--
      of.days.set(corrected.date, (of.days.get(corrected.date) ?? 0) - corrected.amount)
      of.amounts.delete(lineId)
    } else of.correctsBefore = true
    handedOver++
    correction?.({ bankAccount: of.account, lineId, action: action === 'REPLACE' ? 'replace' : 'delete' }, lineRow)
    return action === 'REPLACE'
  }

  const endStatement = (row: number): void => {
    endLine()
    const ended = open
    open = null
    if (!ended) return
    if (ended.account === '') return void fault(row, 'ACCTID', '', 'empty')
    if (!isCurrency(ended.currency)) return void fault(row, 'CURDEF', ended.currency, 'unknown_currency')
    const { sum, account, currency } = ended
    const listed = ended.to || sum.last || ended.balanceDate
    const balance = ended.balance === '' ? null : parseAmount(plain(ended.balance), currency)
    if (balance && !balance.ok) return void fault(row, 'BALAMT', ended.balance, balance.code)
    // A balance of a later day tells nothing of what moved since the list ended.
    const closes = balance?.ok === true && ended.balanceDate !== '' && ended.balanceDate <= listed
    const to = closes ? ended.balanceDate : listed
    const first = ended.from || sum.first || to
    if (first === '' || to === '') return
    const from = first < to ? first : to
    const closing = closes && balance?.ok ? balance.minor : null
    const within = [...ended.days].reduce((total, [day, amount]) => (day <= to ? total + amount : total), 0)
    handedOver++
    statement(
      {
        bankAccount: account,
        number: '',
        currency,
        from,
        to,
        // What a line of an earlier file was is not known here.
        opening: closing === null || ended.correctsBefore ? null : closing - within,
        closing,
        lines: sum.lines,
        sum: within,
      },
      row,
    )
  }

  const readField = (name: string, value: string, row: number): void => {
    if (value === '') return
    if (value.length > mostFieldText) return void fault(row, name, '', 'record_too_long')
    if (line) {
      if (name === 'NAME' && inPayee && line.has('NAME')) return
      line.set(inCurrency === '' ? name : `${inCurrency}.${name}`, value)
      return
    }
    if (!open) return
    if (name === 'CURDEF') open.currency = value
    if (name === 'ACCTID' && inAccount) open.account = value.replace(/\s+/g, '')
    if (name === 'DTSTART') open.from = dayOf(value) ?? ''
    if (name === 'DTEND') open.to = dayOf(value) ?? ''
    if (inBalance && name === 'BALAMT') open.balance = value
    if (inBalance && name === 'DTASOF') open.balanceDate = dayOf(value) ?? ''
  }

  const endLeaf = (row: number): void => {
    const name = leaf
    leaf = ''
    if (name !== '') readField(name, text.trim(), row)
    text = ''
  }

  return {
    take: (event, row) => {
      if (event.type === 'text') {
        if (leaf !== '') text += event.text
        return
      }
      const name = event.name.toUpperCase()
      endLeaf(row)
      if (event.type === 'open') {
        leaf = name
        if (name === 'STMTRS' || name === 'CCSTMTRS') {
          endStatement(row)
          open = emptyStatement()
        }
        if (name === 'STMTTRN') {
          endLine()
          line = new Map()
          lineRow = row
        }
        if (name === 'BANKACCTFROM' || name === 'CCACCTFROM') inAccount = true
        if (name === 'LEDGERBAL') inBalance = true
        if (name === 'PAYEE') inPayee = true
        if (line && (name === 'CURRENCY' || name === 'ORIGCURRENCY')) inCurrency = name
        return
      }
      if (name === 'STMTTRN' || name === 'BANKTRANLIST') endLine()
      if (name === 'STMTRS' || name === 'CCSTMTRS') endStatement(row)
      if (name === 'BANKACCTFROM' || name === 'CCACCTFROM') inAccount = false
      if (name === 'LEDGERBAL') inBalance = false
      if (name === 'PAYEE') inPayee = false
      if (name === inCurrency) inCurrency = ''
    },
    end: row => {
      endLeaf(row)
      endStatement(row)
      if (handedOver === 0 && faults.count === 0) faults.add({ row, column: null, value: '', code: 'not_a_statement' })
    },
  }
}

type LineMoney =
  | { readonly ok: true; readonly amount: number; readonly original: { amount: number; currency: string } | null }
  | { readonly ok: false; readonly column: string; readonly value: string; readonly code: FaultCode }

/**
 * A line's amount in the account's currency, and what it was in another. OFX 2.2, chapter 5.2: CURRATE is how much of the account's currency (CURDEF) one of
 * CURSYM is; within CURRENCY the amount is of CURSYM, within ORIGCURRENCY it is turned into CURDEF already.
 */
const moneyOf = (fields: ReadonlyMap<string, string>, currency: string): LineMoney => {
  const told = fields.get('TRNAMT') ?? ''
  const own = fields.get('CURRENCY.CURSYM') ?? currency
  const former = fields.get('ORIGCURRENCY.CURSYM')
  const fault = (column: string, value: string, code: FaultCode) => ({ ok: false, column, value, code }) as const
  if (!isCurrency(own)) return fault('CURRENCY/CURSYM', own, 'unknown_currency')
  if (former !== undefined && !isCurrency(former)) return fault('ORIGCURRENCY/CURSYM', former, 'unknown_currency')
  const parsed = parseAmount(plain(told), own)
  if (!parsed.ok) return fault('TRNAMT', told, parsed.code)
  const { minor } = parsed
  if (own === currency && former === undefined) return { ok: true, amount: minor, original: null }
  const name = own === currency ? 'ORIGCURRENCY.CURRATE' : 'CURRENCY.CURRATE'
  const rate = rateOf(fields.get(name) ?? '')
  if (own !== currency) {
    if (!rate) return fault('CURRENCY/CURRATE', fields.get(name) ?? '', 'not_a_rate')
    const amount = convertMinor(minor, rate, { currency: own, base: currency })
    return { ok: true, amount, original: { amount: Math.abs(minor), currency: own } }
  }
  if (former === undefined || former === currency || !rate) return { ok: true, amount: minor, original: null }
  const inverse = { numerator: rate.denominator, denominator: rate.numerator }
  const before = convertMinor(Math.abs(minor), inverse, { currency, base: former })
  return { ok: true, amount: minor, original: { amount: before, currency: former } }
}

const rateOf = (text: string): Fraction | null => {
  const value = plain(text)
  return /^\d{1,12}(\.\d{1,12})?$/.test(value) && Number(value) > 0 ? parseFraction(value) : null
}

const plain = (amount: string): string => amount.trim().replace(/^\+/, '').replace(',', '.')

/** The local date of an OFX date: its own clock, whatever zone stands behind it. */
const dayOf = (text: string): string | null => {
  const date = `${text.slice(0, 4)}-${text.slice(4, 6)}-${text.slice(6, 8)}`
  return isDate(date) ? date : null
}

const entities: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", nbsp: ' ' }
const unescaped = (text: string): string =>
  text.replace(/&(#\d{1,6}|\w{2,5});/g, (whole, name: string) => {
    if (!name.startsWith('#')) return entities[name] ?? whole
    const code = Number(name.slice(1))
    return code > 8 && code < 0x10ffff ? String.fromCodePoint(code) : whole
  })

/** Splits OFX 1, which is SGML without ends of elements, into events: a piece of text up to the next tag at a time. */
export const sgmlEvents = (piece: string): readonly XmlEvent[] => {
  const events: XmlEvent[] = []
  for (const match of piece.matchAll(/<(\/?)([A-Za-z0-9._]+)[^>]*>|([^<]+)/g)) {
    const [, slash, name, text] = match
    if (text !== undefined) events.push({ type: 'text', text: unescaped(text) })
    else if (slash === '/') events.push({ type: 'close', name: name as string })
    else events.push({ type: 'open', name: name as string, attributes: {} })
  }
  return events
}
