import type { ContactSort } from '../mapping/contactSort.ts'
import { foldText } from '../mapping/folded.ts'
import { isCurrency } from '../money/currency.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { FaultCode } from './fault.ts'
import { plainNumber } from './foreignFields.ts'
import {
  dayIn,
  fieldOf,
  type ListAsks,
  missing,
  orderOf,
  placesOf,
  type Reading,
  type Records,
  styleOf,
  valuesAt,
} from './listRows.ts'

// Whom a client buys from and sells to, and what is open between them as the books begin.

/** A contact of a list; what is null was not told. */
export interface ListedContact {
  readonly row: number
  readonly code: string
  readonly name: string
  readonly sort: ContactSort | null
  readonly email: string | null
  readonly taxNumber: string | null
  readonly country: string | null
}

/** An invoice or bill of a list that is not paid, or in part. */
export interface ListedOpenItem {
  readonly row: number
  readonly sort: 'invoice' | 'bill'
  readonly number: string
  /** The contact as the list names it: by its number or its name. */
  readonly contact: string
  /** Local dates. */
  readonly date: string
  readonly due: string | null
  readonly currency: string
  /** Minor units: the whole, and what is still open of it. */
  readonly amount: number
  readonly open: number
}

const sortWords: Readonly<Record<ContactSort, string>> = {
  customer: 'customer,customers,client,debtor,kunde,debitor,debiteur,cliente,klant',
  supplier:
    'supplier,suppliers,vendor,creditor,lieferant,kreditor,fournisseur,creancier,proveedor,acreedor,fornitore,leverancier,crediteur',
  both: 'both,customer and supplier,beide,les deux,ambos,entrambi',
}
const itemWords = {
  invoice:
    'invoice,sales invoice,receivable,rechnung,ausgangsrechnung,facture,facture client,factura,factura emitida,fattura,fattura emessa,factuur,verkoopfactuur',
  bill: 'bill,purchase invoice,supplier invoice,payable,eingangsrechnung,facture fournisseur,factura recibida,fattura ricevuta,inkoopfactuur',
}
const wordOf = <Word extends string>(words: Readonly<Record<Word, string>>, text: string): Word | null =>
  (Object.keys(words) as Word[]).find(word => words[word].split(',').includes(foldText(text))) ?? null

/** Reads a list of contacts; one without a number of its own goes by its name. */
export const readContactList = (
  header: readonly string[],
  records: Records,
  { faults }: Pick<Reading, 'faults'>,
): { readonly contacts: ListedContact[] } => {
  const places = placesOf('contacts', header)
  if (missing(places, ['name'], { header, faults })) return { contacts: [] }
  const seen = new Set<string>()
  const contacts = records.flatMap(([record, row]): ListedContact[] => {
    const field = fieldOf(places, record)
    const name = field('name')
    const code = field('code') || name
    if (code === '') return []
    const add = (column: string, value: string, what: FaultCode) => faults.add({ row, column, value, code: what })
    if (name === '') add('name', '', 'empty')
    if (code.length > 100) add('code', code, 'too_long')
    if (name.length > 300) add('name', name, 'too_long')
    if (seen.has(code)) add(field('code') ? 'code' : 'name', code, 'twice_in_file')
    seen.add(code)
    const sort = field('sort') === '' ? null : wordOf(sortWords, field('sort'))
    if (field('sort') !== '' && sort === null) add('sort', field('sort'), 'unknown_word')
    const country = field('country').toUpperCase()
    if (country !== '' && !/^[A-Z]{2}$/.test(country)) add('country', field('country'), 'not_a_region')
    return [
      {
        row,
        code,
        name,
        sort,
        email: field('email') || null,
        taxNumber: field('tax_number') || null,
        country: country || null,
      },
    ]
  })
  return { contacts }
}

/**
 * Reads a list of open invoices and bills. One column may say which a row is; without it an amount below zero is a bill, and where all are above zero
 * all are invoices unless `sort` says otherwise. Nothing while something is asked.
 */
export const readOpenItemList = (
  header: readonly string[],
  records: Records,
  { faults, told, base, sort }: Reading & { readonly base: string; readonly sort: 'invoice' | 'bill' },
): { readonly items: ListedOpenItem[]; readonly asks: readonly ListAsks[] } => {
  const places = placesOf('openItems', header)
  const amountName = places.has('open') ? 'open' : 'amount'
  if (missing(places, ['number', 'contact', 'date', amountName], { header, faults })) return { items: [], asks: [] }
  const numbers = styleOf(valuesAt(records, places, ['amount', 'open']), told)
  const dates = orderOf(valuesAt(records, places, ['date', 'due']), told)
  const asks = [...numbers.asks, ...dates.asks]
  const { style } = numbers
  const { order } = dates
  if (style === null || order === null) return { items: [], asks }
  const seen = new Set<string>()
  const items = records.flatMap(([record, row]): ListedOpenItem[] => {
    const field = fieldOf(places, record)
    const [number, contact] = [field('number'), field('contact')]
    // A line of totals names neither.
    if (number === '' && contact === '') return []
    const before = faults.count
    const add = (column: string, value: string, what: FaultCode) => faults.add({ row, column, value, code: what })
    if (number === '') add('number', '', 'empty')
    if (contact === '') add('contact', '', 'empty')
    if (number.length > 100) add('number', number, 'too_long')
    if (contact.length > 300) add('contact', contact, 'too_long')
    const currency = field('currency').toUpperCase() || base
    if (!isCurrency(currency)) add('currency', currency, 'unknown_currency')
    const day = (column: 'date' | 'due') => {
      const read = field(column) === '' ? null : dayIn(field(column), order)
      if (read === null && (column === 'date' || field(column) !== '')) add(column, field(column), 'not_a_date')
      return read
    }
    const [date, due] = [day('date'), day('due')]
    const minor = (column: 'amount' | 'open') => {
      const text = field(column)
      if (text === '') return null
      const plain = plainNumber(text, style)
      const read = plain === null || !isCurrency(currency) ? null : parseAmount(plain, currency)
      if (read?.ok) return read.minor
      add(column, text, read === null ? 'not_an_amount' : read.code)
      return null
    }
    const [whole, left] = [minor('amount'), minor('open')]
    const open = left ?? whole
    if (open === null && faults.count === before) add(amountName, '', 'empty')
    const word = field('sort') === '' ? null : wordOf(itemWords, field('sort'))
    if (field('sort') !== '' && word === null) add('sort', field('sort'), 'unknown_word')
    if (faults.count > before || open === null || date === null || open === 0) return []
    const isBelow = word === null && open < 0
    const sign = isBelow ? -1 : 1
    const item = { sort: word ?? (isBelow ? 'bill' : sort), number, contact, date, due, currency } as const
    const key = JSON.stringify([item.sort, contact, number])
    if (seen.has(key)) add('number', number, 'twice_in_file')
    seen.add(key)
    return [{ row, ...item, amount: sign * (whole ?? open), open: sign * open }]
  })
  return { items, asks: [] }
}
