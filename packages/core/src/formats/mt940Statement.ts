import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankLine } from './bankRow.ts'
import type { FaultCode, FaultList } from './fault.ts'
import { bankLineId, type StatementHead, StatementSum } from './statementHead.ts'

/** Takes an MT940 line by line. */
export interface Mt940Reader {
  /** A line of the file without its end; `row` counts from 1. */
  take(line: string, row: number): void
  end(row: number): void
}

interface Told {
  readonly found: (line: BankLine, row: number) => void
  readonly statement: (head: StatementHead, row: number) => void
}

interface Movement {
  readonly row: number
  readonly date: string
  readonly amount: number
  readonly reference: string
  readonly bankReference: string
  texts: string[]
}

interface Open {
  account: string
  currency: string
  number: string
  opening: number | null
  closing: number | null
  to: string
  sum: StatementSum
  row: number
}

/** Characters of one movement's text: beyond them the file is no statement that a bank wrote. */
const mostText = 20_000

const tagShape = /^:(\d{2}[A-Z]?):(.*)$/
// Value date, entry date, mark, funds code, amount, type, reference and the bank's own after two strokes. SWIFT MT940, field 61: 6!n[4!n]2a[1!a]15d1!a3!c16x[//16x].
const movementShape =
  /^(\d{6})(\d{4})?(R?[CD]|E[CD])([A-Z])?(\d[\d]*,\d*)([NFS][A-Z0-9]{3})?([^/]*(?:\/(?!\/)[^/]*)*)(?:\/\/(.*))?$/
// Some banks leave the comma of a whole amount out.
const looseMovementShape =
  /^(\d{6})(\d{4})?(R?[CD]|E[CD])([A-Z])?(\d+)([NFS][A-Z0-9]{3})([^/]*(?:\/(?!\/)[^/]*)*)(?:\/\/(.*))?$/
const looseBalanceShape = /^([CD])(\d{6})([A-Z]{3})(\d+)$/
// Mark, date, currency, amount. Fields 60 and 62: 1!a6!n3!a15d.
const balanceShape = /^([CD])(\d{6})([A-Z]{3})(\d[\d]*,\d*)$/

/**
 * Reads SWIFT MT940: several statements in a file, pages of one (60M and 62M are what goes on to the next page), field 86 as free text or in numbered parts. Expected
 * items (EC, ED) are not booked, and left out; a reversal (RC, RD) goes the other way.
 */
export const mt940Reader = (faults: FaultList, { found, statement }: Told): Mt940Reader => {
  let open: Open | null = null
  let movement: Movement | null = null
  let tag = ''
  let details: string[] = []
  let isStatement = false
  /** Lines and statements that were handed over: a file without any tells nothing. */
  let handedOver = 0
  const ids = new Map<string, Map<string, number>>()
  const fault = (row: number, column: string, value: string, code: FaultCode): null => {
    faults.add({ row, column, value, code })
    return null
  }

  const endMovement = (): void => {
    const ended = movement
    movement = null
    const text = [...(ended?.texts ?? []), detailText(details)].filter(Boolean).join(' ').replace(/\s+/g, ' ').trim()
    details = []
    if (!ended || !open) return
    if (open.account === '') return void fault(ended.row, ':25:', '', 'empty')
    const known = ids.get(open.account) ?? new Map<string, number>()
    ids.set(open.account, known)
    const line = {
      date: ended.date,
      bankAccount: open.account,
      amount: ended.amount,
      currency: open.currency,
      description: text,
      reference: ended.reference,
    }
    const whole = { ...line, lineId: bankLineId(ended.bankReference, line, known) }
    open.sum.add(whole)
    handedOver++
    found(whole, ended.row)
  }

  const endStatement = (row: number): void => {
    endMovement()
    if (open?.closing !== null && open !== null) {
      const { account, sum, currency, number, opening, closing } = open
      // The day of its opening balance is the last one of the statement before.
      const from = sum.first || open.to
      const to = [open.to, sum.last].sort().at(-1) as string
      handedOver++
      statement(
        { bankAccount: account, number, currency, from, to, opening, closing, lines: sum.lines, sum: sum.sum },
        row,
      )
    }
    open = null
  }

  const readBalance = (value: string, row: number, column: string) => {
    const match = balanceShape.exec(value.trim()) ?? looseBalanceShape.exec(value.trim())
    if (!match) return fault(row, column, value, 'not_an_amount')
    const [, mark, day = '', currency = '', amount = ''] = match
    const date = dateOf(day)
    if (!isCurrency(currency)) return fault(row, column, currency, 'unknown_currency')
    if (date === null) return fault(row, column, day, 'not_a_date')
    const parsed = parseAmount(plain(amount), currency)
    if (!parsed.ok) return fault(row, column, amount, parsed.code)
    return { date, currency, amount: mark === 'D' ? 0 - parsed.minor : parsed.minor }
  }

  const readMovement = (value: string, row: number): void => {
    endMovement()
    if (!open) return void fault(row, ':61:', value, 'not_a_statement')
    const match = movementShape.exec(value) ?? looseMovementShape.exec(value)
    if (!match) return void fault(row, ':61:', value, 'not_an_amount')
    const [, day = '', booked, mark = '', , amount = '', , reference = '', bankReference = ''] = match
    if (mark.startsWith('E')) return
    const date = bookedOn(day, booked)
    if (date === null) return void fault(row, ':61:', value, 'not_a_date')
    if (open.currency === '') return void fault(row, ':60F:', '', 'empty')
    const parsed = parseAmount(plain(amount), open.currency)
    if (!parsed.ok) return void fault(row, ':61:', amount, parsed.code)
    // RC takes a credit back, RD a debit.
    const into = mark === 'C' || mark === 'RD'
    movement = {
      row,
      date,
      amount: into ? parsed.minor : 0 - parsed.minor,
      reference: told(reference),
      bankReference: told(bankReference),
      texts: [],
    }
  }

  const readField = (name: string, value: string, row: number): void => {
    if (name === '20') {
      // The next message; whether it is a further page, its opening balance says.
      isStatement = true
      endMovement()
      return
    }
    if (name === '25' || name === '25P') {
      const account = accountOf(value)
      // A statement of another account, or one whose last page has its closing balance, is over.
      if (open !== null && (open.account !== account || open.closing !== null)) endStatement(row)
      open ??= {
        account,
        currency: '',
        number: '',
        opening: null,
        closing: null,
        to: '',
        sum: new StatementSum(),
        row,
      }
      return
    }
    if (!open) return
    if (name === '28C' || name === '28') {
      const number = value.split('/')[0]?.trim() ?? ''
      if (open.number === '') open.number = number
    } else if (name === '60F' || name === '60M') {
      const balance = readBalance(value, row, `:${name}:`)
      if (!balance) return
      if (open.currency === '') Object.assign(open, { currency: balance.currency, opening: balance.amount })
    } else if (name === '61') readMovement(value, row)
    else if (name === '62F' || name === '62M') {
      endMovement()
      const balance = readBalance(value, row, `:${name}:`)
      if (!balance) return
      open.to = balance.date
      if (name === '62F') {
        open.closing = balance.amount
        endStatement(row)
      }
    }
  }

  return {
    take: (line, row) => {
      const text = line.replace(/^\{[^}]*\}/, '').replace(/^\{4:/, '')
      if (text === '-' || text === '-}' || text.trim() === '') return
      const match = tagShape.exec(text)
      if (match) {
        tag = match[1] as string
        if (tag === '86') details = [match[2] as string]
        else readField(tag, match[2] as string, row)
        return
      }
      // What goes on: of field 86 its text, of field 61 a word of the bank.
      if (tag === '86') {
        details.push(text)
        if (details.length * 65 > mostText) fault(row, ':86:', '', 'record_too_long')
      } else if (tag === '61' && movement) movement.texts.push(text)
    },
    end: row => {
      endMovement()
      if (open !== null && open.closing === null && open.sum.lines > 0) fault(row, ':62F:', '', 'empty')
      endStatement(row)
      if ((!isStatement || handedOver === 0) && faults.count === 0)
        faults.add({ row, column: null, value: '', code: 'not_a_statement' })
    },
  }
}

const plain = (amount: string): string => amount.replace(',', '.').replace(/\.$/, '')
const told = (reference: string): string => {
  const text = reference.trim()
  return text === 'NONREF' || text === 'NOTPROVIDED' ? '' : text
}
// A number may carry its currency, or the bank's before a stroke.
const accountOf = (value: string): string =>
  value
    .trim()
    .replace(/\s+/g, '')
    .replace(/(?<=\d)[A-Z]{3}$/, '')

const dateOf = (day: string): string | null => {
  const year = Number(day.slice(0, 2))
  // Two digits: a statement is of no day further away than eighty years back or twenty on.
  const date = `${year >= 80 ? '19' : '20'}${day.slice(0, 2)}-${day.slice(2, 4)}-${day.slice(4, 6)}`
  return isDate(date) ? date : null
}

// The entry date has no year: it is the one that is nearest to the value date.
const bookedOn = (valueDay: string, entry: string | undefined): string | null => {
  const value = dateOf(valueDay)
  if (value === null || entry === undefined) return value
  const year = Number(value.slice(0, 4))
  const near = [year - 1, year, year + 1]
    .map(one => `${one}-${entry.slice(0, 2)}-${entry.slice(2, 4)}`)
    .filter(date => isDate(date))
    .map(date => ({ date, away: Math.abs(Date.parse(date) - Date.parse(value)) }))
    .sort((left, right) => left.away - right.away)
  return near[0]?.date ?? null
}

/** Characters that a line of field 86 has, and that a numbered part of it has: what is as long goes on in the next without a blank. */
const fullLine = 65
const fullPart = 27

/** Texts in pieces of a fixed length: a word cut off at the end of a piece is whole again. */
const joinedPieces = (pieces: readonly string[], full: number): string =>
  pieces.reduce((whole, piece, index) => {
    const before = pieces[index - 1]
    return whole + (before === undefined || before.length >= full ? '' : ' ') + piece
  }, '')

// Numbered parts: ?00 the sort of movement, ?20 to ?29 and ?60 to ?63 what it is for, ?32 and ?33 who it is with. Anything else is free text.
const detailText = (lines: readonly string[]): string => {
  const whole = lines.join('')
  const mark = /^\d{3}([?<>~])\d{2}/.exec(whole)?.[1]
  if (mark === undefined) return joinedPieces(lines, fullLine)
  const parts = whole.slice(3).split(mark).filter(Boolean)
  const of = (wanted: (no: number) => boolean) =>
    joinedPieces(
      parts.filter(part => wanted(Number(part.slice(0, 2)))).map(part => part.slice(2)),
      fullPart,
    )
  return [
    of(no => (no >= 20 && no <= 29) || (no >= 60 && no <= 63)),
    of(no => no === 32 || no === 33),
    of(no => no === 0),
  ].join(' ')
}
