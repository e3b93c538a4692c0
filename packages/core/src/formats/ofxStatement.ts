import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankLine } from './bankRow.ts'
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
}

interface OpenStatement {
  currency: string
  account: string
  from: string
  to: string
  balance: string
  balanceDate: string
  sum: StatementSum
}

const mostFieldText = 10_000

/**
 * Reads OFX, versions 1 and 2 alike (OFX 2.2, chapters 11.4 and 11.12), event by event: bank and card statements. Elements need no end: one that holds text ends with
 * whatever comes next. A file states no opening balance; its ledger balance is the closing one where it is of the last day of the list.
 */
export const ofxReader = (faults: FaultList, { found, statement }: Told): OfxReader => {
  const ids = new Map<string, Map<string, number>>()
  let handedOver = 0
  let open: OpenStatement | null = null
  let line: Map<string, string> | null = null
  let lineRow = 0
  let inAccount = false
  let inBalance = false
  let inPayee = false
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
    const parsed = parseAmount(plain(field('TRNAMT')), open.currency)
    if (!parsed.ok) return void fault(lineRow, 'TRNAMT', field('TRNAMT'), parsed.code)
    const known = ids.get(open.account) ?? new Map<string, number>()
    ids.set(open.account, known)
    const one = {
      date,
      bankAccount: open.account,
      amount: parsed.minor,
      currency: open.currency,
      description: [field('NAME'), field('MEMO')].filter(Boolean).join(' ').replace(/\s+/g, ' ').trim(),
      reference: [field('CHECKNUM'), field('REFNUM')].filter(Boolean).join(' '),
    }
    const whole = { ...one, lineId: bankLineId(field('FITID'), one, known) }
    open.sum.add(whole)
    handedOver++
    found(whole, lineRow)
  }

  const endStatement = (row: number): void => {
    endLine()
    const ended = open
    open = null
    if (!ended) return
    if (ended.account === '') return void fault(row, 'ACCTID', '', 'empty')
    if (!isCurrency(ended.currency)) return void fault(row, 'CURDEF', ended.currency, 'unknown_currency')
    const { sum, account, currency } = ended
    const to = ended.to || sum.last || ended.balanceDate
    const from = ended.from || sum.first || to
    if (from === '' || to === '') return
    const balance = ended.balance === '' ? null : parseAmount(plain(ended.balance), currency)
    if (balance && !balance.ok) return void fault(row, 'BALAMT', ended.balance, balance.code)
    const closing = balance?.ok && ended.balanceDate === to ? balance.minor : null
    handedOver++
    statement(
      {
        bankAccount: account,
        number: '',
        currency,
        from: from < to ? from : to,
        to,
        opening: closing === null ? null : closing - sum.sum,
        closing,
        lines: sum.lines,
        sum: sum.sum,
      },
      row,
    )
  }

  const readField = (name: string, value: string, row: number): void => {
    if (value === '') return
    if (value.length > mostFieldText) return void fault(row, name, '', 'record_too_long')
    if (line) {
      if (name === 'NAME' && inPayee && line.has('NAME')) return
      line.set(name, value)
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
          open = { currency: '', account: '', from: '', to: '', balance: '', balanceDate: '', sum: new StatementSum() }
        }
        if (name === 'STMTTRN') {
          endLine()
          line = new Map()
          lineRow = row
        }
        if (name === 'BANKACCTFROM' || name === 'CCACCTFROM') inAccount = true
        if (name === 'LEDGERBAL') inBalance = true
        if (name === 'PAYEE') inPayee = true
        return
      }
      if (name === 'STMTTRN' || name === 'BANKTRANLIST') endLine()
      if (name === 'STMTRS' || name === 'CCSTMTRS') endStatement(row)
      if (name === 'BANKACCTFROM' || name === 'CCACCTFROM') inAccount = false
      if (name === 'LEDGERBAL') inBalance = false
      if (name === 'PAYEE') inPayee = false
    },
    end: row => {
      endLeaf(row)
      endStatement(row)
      if (handedOver === 0 && faults.count === 0) faults.add({ row, column: null, value: '', code: 'not_a_statement' })
    },
  }
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
