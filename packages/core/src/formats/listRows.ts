import { isDate } from '../activity/localDate.ts'
import { foldText } from '../mapping/folded.ts'
import { isCurrency } from '../money/currency.ts'
import type { ExchangeRate } from '../money/exchange.ts'
import { parseAmount } from '../money/parseAmount.ts'
import { checkRate } from './checkRate.ts'
import type { FaultCode, FaultList } from './fault.ts'
import { type DateOrder, dateOrders, type NumberStyle, plainNumber, stylesThatRead } from './foreignFields.ts'

// What heads of lists are called, folded, in English, German, French, Spanish, Italian and Dutch; the first one that is there counts.
const heads = {
  rates: {
    date: 'date,day,time,datum,tag,jour,fecha,dia,data,giorno,dag',
    from: 'from,from currency,base,base currency,one,von,ausgangswahrung,de,devise de base,moneda base,da,valuta base,van',
    to: 'to,to currency,quote,quote currency,currency,nach,zielwahrung,wahrung,vers,devise,moneda,a,valuta,naar',
    rate: 'rate,exchange rate,value,kurs,wechselkurs,taux,taux de change,cours,cambio,tipo de cambio,tasso,tasso di cambio,koers,wisselkoers',
  },
  opening: {
    account:
      'account,account code,account number,account no,code,number,no,konto,kontonummer,kontonr,compte,numero de compte,cuenta,codigo,conto,codice,codice conto,rekening,rekeningnummer,nummer',
    debit: 'debit,dr,debit balance,soll,debe,dare,debet',
    credit: 'credit,cr,credit balance,haben,haber,avere',
    balance: 'balance,amount,closing balance,saldo,endsaldo,solde,montant,importe,importo,bedrag',
  },
  items: {
    code: 'sku,code,item code,item no,item number,item,artikelnummer,artikelnr,reference,ref,codigo,codice,artikelcode',
    name: 'name,item name,description,title,bezeichnung,artikelbezeichnung,beschreibung,designation,libelle,nombre,descripcion,nome,descrizione,naam,omschrijving',
    account:
      'account,income account,sales account,erloskonto,konto,compte,compte de vente,cuenta,cuenta de ventas,conto,conto ricavi,omzetrekening,rekening',
    tax_code: 'tax code,tax,vat code,steuerschlussel,steuercode,code tva,codigo de iva,codice iva,btw code',
    cost: 'cost,unit cost,cost price,purchase price,einkaufspreis,einstandspreis,cout,prix d achat,coste,precio de compra,costo,prezzo di acquisto,kostprijs,inkoopprijs',
  },
  contacts: {
    code: 'code,contact code,number,no,customer number,customer no,supplier number,supplier no,kundennummer,lieferantennummer,nummer,debitorennummer,kreditorennummer,numero,numero client,numero fournisseur,codigo,numero de cliente,codice,codice cliente,klantnummer,leveranciersnummer',
    name: 'name,contact,contact name,company,customer,customer name,supplier,supplier name,kunde,lieferant,firma,client,fournisseur,nom,raison sociale,nombre,cliente,proveedor,razon social,nome,fornitore,ragione sociale,naam,klant,leverancier,bedrijf',
    sort: 'type,kind,sort,art,typ,genre,tipo,clase,soort',
    email: 'email,e mail,email address,e-mail,courriel,correo,correo electronico,posta elettronica',
    tax_number:
      'tax number,vat number,vat id,tax id,vat no,ust idnr,ust-idnr,ust id,numero de tva,n tva,nif,cif,numero de iva,partita iva,p iva,btw nummer,btw-nummer',
    country: 'country,country code,land,pays,pais,paese,nazione',
  },
  openItems: {
    sort: 'type,kind,sort,document,document type,belegart,art,typ,genre,tipo,clase,soort',
    number:
      'number,invoice number,invoice no,bill number,bill no,document number,no,reference,rechnungsnummer,belegnummer,nummer,numero,numero de facture,n facture,numero de factura,numero fattura,factuurnummer',
    contact:
      'contact,customer,customer name,supplier,supplier name,name,company,kunde,lieferant,firma,client,fournisseur,nom,cliente,proveedor,nombre,fornitore,nome,klant,leverancier,naam',
    date: 'date,invoice date,bill date,issue date,issued,datum,rechnungsdatum,belegdatum,date de facture,fecha,fecha de factura,data,data fattura,factuurdatum',
    due: 'due,due date,payable by,fallig,fallig am,falligkeit,falligkeitsdatum,echeance,date d echeance,vencimiento,fecha de vencimiento,scadenza,data scadenza,vervaldatum',
    currency: 'currency,ccy,wahrung,devise,moneda,divisa,valuta,munt',
    amount:
      'amount,total,gross,total amount,betrag,gesamtbetrag,brutto,montant,total ttc,importe,importe total,importo,totale,bedrag,totaal',
    open: 'open,open amount,outstanding,amount due,balance,balance due,left,offen,offener betrag,restbetrag,reste du,solde,montant restant,pendiente,importe pendiente,saldo,residuo,importo residuo,openstaand,openstaand bedrag',
  },
  taxes: {
    code: 'code,tax code,vat code,key,steuerschlussel,steuercode,kurzel,code tva,codigo,codigo de iva,codice,codice iva,btw code',
    name: 'name,description,title,bezeichnung,beschreibung,designation,libelle,nombre,descripcion,nome,descrizione,naam,omschrijving',
    rate: 'rate,percent,percentage,tax rate,rate percent,satz,steuersatz,prozent,taux,pourcentage,tipo,porcentaje,aliquota,percentuale,tarief,percentage btw',
    from: 'from,valid from,since,date,ab,gultig ab,seit,a partir de,depuis,desde,dal,valido dal,vanaf,geldig vanaf',
    account:
      'account,tax account,liability account,konto,steuerkonto,compte,compte de tva,cuenta,cuenta de iva,conto,conto iva,rekening,btw rekening',
    country: 'country,country code,land,pays,pais,paese,nazione',
    use: 'use,type,kind,direction,art,verwendung,usage,sens,uso,clase,tipo operazione,gebruik,soort',
    basis: 'basis,price,included,preisart,prix,precio,prezzo,prijs',
  },
} as const

export type ListSort = keyof typeof heads

/** What somebody said of a list that could be read two ways. */
export interface ListTold {
  readonly decimal?: '.' | ','
  readonly order?: DateOrder
}

/** What could be read two ways, with a value of the list that shows it. */
export interface ListAsks {
  readonly what: 'decimal' | 'order'
  readonly value: string
}

export type Records = readonly (readonly [record: readonly string[], row: number])[]
export interface Reading {
  readonly faults: FaultList
  readonly told: ListTold
}

export const placesOf = <Sort extends ListSort>(
  sort: Sort,
  header: readonly string[],
): ReadonlyMap<keyof (typeof heads)[Sort] & string, number> => {
  const folded = header.map(name => foldText(name))
  const places = new Map<keyof (typeof heads)[Sort] & string, number>()
  const taken = new Set<number>()
  for (const [meaning, names] of Object.entries(heads[sort]) as [keyof (typeof heads)[Sort] & string, string][]) {
    const at = names
      .split(',')
      .map(name => folded.findIndex((one, place) => one === name && !taken.has(place)))
      .find(place => place >= 0)
    if (at === undefined) continue
    places.set(meaning, at)
    taken.add(at)
  }
  return places
}

/** Reads a column's field of a record, trimmed. */
export const fieldOf =
  (places: ReadonlyMap<string, number>, record: readonly string[]) =>
  (meaning: string): string => {
    const at = places.get(meaning)
    return at === undefined ? '' : (record[at] ?? '').replaceAll('\0', '').trim()
  }

export const missing = (
  places: ReadonlyMap<string, number>,
  needed: readonly string[],
  { header, faults }: { readonly header: readonly string[]; readonly faults: FaultList },
): boolean => {
  const lacking = needed.filter(name => !places.has(name))
  for (const column of lacking)
    faults.add({ row: 1, column, value: header.join(', ').slice(0, 200), code: 'missing_column' })
  return lacking.length > 0
}

/** How numbers of a list are written; null where that could be either way, and is asked. */
export const styleOf = (values: readonly string[], told: ListTold): { style: NumberStyle | null; asks: ListAsks[] } => {
  const styles = stylesThatRead(values).filter(style => told.decimal === undefined || style.decimal === told.decimal)
  const [first] = styles
  const marks = new Set(styles.map(style => style.decimal))
  // Whole numbers read alike however they are written.
  const shows = values.find(value => new Set(styles.map(style => plainNumber(value, style))).size > 1)
  if (first && marks.size > 1 && shows !== undefined) return { style: null, asks: [{ what: 'decimal', value: shows }] }
  return { style: first ?? { decimal: told.decimal ?? '.', thousands: '' }, asks: [] }
}

export const dayIn = (text: string, order: DateOrder): string | null => {
  if (isDate(text)) return text
  const match = /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})$/.exec(text)
  if (!match) return null
  const parts = [match[1], match[2], match[3]]
  const [year = '', month = '', day = ''] = (['y', 'm', 'd'] as const).map(part => parts[order.indexOf(part)] ?? '')
  const date = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`
  return isDate(date) ? date : null
}

export const orderOf = (values: readonly string[], told: ListTold): { order: DateOrder | null; asks: ListAsks[] } => {
  if (told.order) return { order: told.order, asks: [] }
  const orders = dateOrders.filter(order => values.every(value => dayIn(value, order) !== null))
  const shows = values.find(value => new Set(orders.map(order => dayIn(value, order))).size > 1)
  return orders.length > 1 && shows !== undefined
    ? { order: null, asks: [{ what: 'order', value: shows }] }
    : { order: orders[0] ?? 'ymd', asks: [] }
}

export const valuesAt = (records: Records, places: ReadonlyMap<string, number>, names: readonly string[]): string[] =>
  records.flatMap(([record]) => names.map(fieldOf(places, record))).filter(value => value !== '')

/** Reads a list of exchange rates: one of `from` is `rate` of `to`, which are the client's own currency where the list has none of them. Nothing while something is asked. */
export const readRateList = (
  header: readonly string[],
  records: Records,
  { faults, told, base }: Reading & { readonly base: string },
): { readonly rates: ExchangeRate[]; readonly asks: readonly ListAsks[] } => {
  const places = placesOf('rates', header)
  if (missing(places, ['date', 'rate'], { header, faults })) return { rates: [], asks: [] }
  if (!places.has('from') && missing(places, ['to'], { header, faults })) return { rates: [], asks: [] }
  const numbers = styleOf(valuesAt(records, places, ['rate']), told)
  const dates = orderOf(valuesAt(records, places, ['date']), told)
  const asks = [...numbers.asks, ...dates.asks]
  const { style } = numbers
  const { order } = dates
  if (style === null || order === null) return { rates: [], asks }
  const seen = new Set<string>()
  const rates = records.flatMap(([record, row]): ExchangeRate[] => {
    const field = fieldOf(places, record)
    if (field('date') === '' && field('rate') === '') return []
    const read: ExchangeRate = {
      date: dayIn(field('date'), order) ?? '',
      from: (field('from') || base).toUpperCase(),
      to: (field('to') || base).toUpperCase(),
      rate: plainNumber(field('rate'), style) ?? '',
    }
    const fault = checkRate(read)
    const key = `${read.date} ${read.from} ${read.to}`
    const add = (column: string, value: string, code: FaultCode) => faults.add({ row, column, value, code })
    if (fault === 'not_a_date') add('date', field('date'), 'not_a_date')
    else if (fault === 'unknown_currency' || fault === 'same_currency')
      add('to', `${read.from} ${read.to}`, 'unknown_currency')
    else if (fault === 'not_a_rate') add('rate', field('rate'), 'not_an_amount')
    else if (seen.has(key)) add('date', key, 'twice_in_file')
    seen.add(key)
    return fault === null ? [read] : []
  })
  return { rates, asks: [] }
}

/** What an account held, by its number: minor units of base, plus is a debit. */
export interface ListedBalance {
  readonly row: number
  readonly account: string
  readonly amount: number
}

/** Reads a list of balances: debit and credit in two columns, or one balance of which a debit is plus. Rows that come to nothing are left out. Nothing while something is asked. */
export const readBalanceList = (
  header: readonly string[],
  records: Records,
  { faults, told, base }: Reading & { readonly base: string },
): { readonly balances: ListedBalance[]; readonly asks: readonly ListAsks[] } => {
  const places = placesOf('opening', header)
  const isTwo = places.has('debit') && places.has('credit')
  if (missing(places, ['account', ...(isTwo ? [] : ['balance'])], { header, faults })) return { balances: [], asks: [] }
  const columns = isTwo ? ['debit', 'credit'] : ['balance']
  const { style, asks } = styleOf(valuesAt(records, places, columns), told)
  if (style === null) return { balances: [], asks }
  const seen = new Set<string>()
  const balances = records.flatMap(([record, row]): ListedBalance[] => {
    const field = fieldOf(places, record)
    const account = field('account')
    const amounts = columns.map(column => {
      const text = field(column)
      if (text === '') return 0
      const plain = plainNumber(text, style)
      const read = plain === null ? null : parseAmount(plain, base)
      if (read?.ok) return read.minor
      faults.add({ row, column, value: text, code: read === null ? 'not_an_amount' : read.code })
      return 0
    })
    const amount = isTwo ? (amounts[0] ?? 0) - (amounts[1] ?? 0) : (amounts[0] ?? 0)
    // A line of totals names no account.
    if (account === '' || amount === 0) return []
    if (seen.has(account)) faults.add({ row, column: 'account', value: account, code: 'twice_in_file' })
    seen.add(account)
    return [{ row, account, amount }]
  })
  return { balances, asks: [] }
}

/** An item of a list; what is null was not told. */
export interface ListedItem {
  readonly row: number
  readonly code: string
  readonly name: string
  readonly account: string | null
  readonly taxCode: string | null
  /** Minor units of base. */
  readonly cost: number | null
}

/** Reads a list of items. Nothing while something is asked. */
export const readItemList = (
  header: readonly string[],
  records: Records,
  { faults, told, base }: Reading & { readonly base: string },
): { readonly items: ListedItem[]; readonly asks: readonly ListAsks[] } => {
  const places = placesOf('items', header)
  if (missing(places, ['code', 'name'], { header, faults })) return { items: [], asks: [] }
  const { style, asks } = styleOf(valuesAt(records, places, ['cost']), told)
  if (style === null) return { items: [], asks }
  const seen = new Set<string>()
  const items = records.flatMap(([record, row]): ListedItem[] => {
    const field = fieldOf(places, record)
    const [code, name, costText] = [field('code'), field('name'), field('cost')]
    if (code === '' && name === '') return []
    const add = (column: string, value: string, what: FaultCode) => faults.add({ row, column, value, code: what })
    if (code === '') add('code', '', 'empty')
    if (name === '') add('name', '', 'empty')
    if (code.length > 100) add('code', code, 'too_long')
    if (name.length > 300) add('name', name, 'too_long')
    if (seen.has(code)) add('code', code, 'twice_in_file')
    seen.add(code)
    const plain = costText === '' ? null : plainNumber(costText, style)
    const cost = plain === null ? null : parseAmount(plain, base)
    if (costText !== '' && !cost?.ok) add('cost', costText, cost === null ? 'not_an_amount' : cost.code)
    return [
      {
        ...{ row, code, name, account: field('account') || null, taxCode: field('tax_code') || null },
        cost: cost?.ok ? cost.minor : null,
      },
    ]
  })
  return { items, asks: [] }
}

/** A rate of a tax code of a list; what is null was not told. Several rows of one code are its rates by date. */
export interface ListedTax {
  readonly row: number
  readonly code: string
  readonly name: string
  /** Percent, as text. */
  readonly percent: string
  /** Local date. */
  readonly from: string | null
  readonly account: string | null
  readonly country: string | null
  /** `unknown`: told in a word that is neither. */
  readonly use: 'sales' | 'purchases' | 'unknown'
  readonly basis: 'inclusive' | 'exclusive' | null
}

const useWords = {
  sales:
    'sales,sale,output,out,umsatz,umsatzsteuer,verkauf,ventes,vente,collectee,ventas,repercutido,vendite,debito,verkoop,verkopen',
  purchases:
    'purchases,purchase,input,in,vorsteuer,einkauf,achats,achat,deductible,compras,soportado,acquisti,credito,inkoop,inkopen,voorbelasting',
} as const
const basisWords = {
  inclusive: 'inclusive,included,gross,within,brutto,inkl,inklusive,ttc,incluido,compreso,inclusief,bruto',
  exclusive: 'exclusive,excluded,net,beside,netto,exkl,exklusive,ht,excluido,escluso,exclusief,neto',
} as const
const wordIn = <Meaning extends string>(words: Readonly<Record<Meaning, string>>, text: string): Meaning | null =>
  (Object.keys(words) as Meaning[]).find(meaning => words[meaning].split(',').includes(foldText(text))) ?? null

/** Reads a list of tax codes: one rate a row. Nothing while something is asked. */
export const readTaxList = (
  header: readonly string[],
  records: Records,
  { faults, told }: Reading,
): { readonly taxes: ListedTax[]; readonly asks: readonly ListAsks[] } => {
  const places = placesOf('taxes', header)
  if (missing(places, ['code', 'rate'], { header, faults })) return { taxes: [], asks: [] }
  const clean = (text: string) => text.replace(/\s*%$/, '')
  const numbers = styleOf(valuesAt(records, places, ['rate']).map(clean), told)
  const dates = orderOf(valuesAt(records, places, ['from']), told)
  const asks = [...numbers.asks, ...dates.asks]
  const { style } = numbers
  const { order } = dates
  if (style === null || order === null) return { taxes: [], asks }
  const seen = new Set<string>()
  const taxes = records.flatMap(([record, row]): ListedTax[] => {
    const field = fieldOf(places, record)
    const [code, fromText] = [field('code'), field('from')]
    if (code === '' && field('rate') === '') return []
    const add = (column: string, value: string, what: FaultCode) => faults.add({ row, column, value, code: what })
    if (code === '') add('code', '', 'empty')
    if (code.length > 20) add('code', code, 'too_long')
    const percent = plainNumber(clean(field('rate')), style)
    if (percent === null || !/^\d{1,3}(\.\d{1,6})?$/.test(percent) || Number(percent) > 100)
      add('rate', field('rate'), 'not_an_amount')
    const from = fromText === '' ? null : dayIn(fromText, order)
    if (fromText !== '' && from === null) add('from', fromText, 'not_a_date')
    const key = `${code} ${from ?? ''}`
    if (seen.has(key)) add('code', key.trim(), 'twice_in_file')
    seen.add(key)
    const country = field('country').toUpperCase()
    if (country !== '' && !/^[A-Z]{2}$/.test(country)) add('country', field('country'), 'not_a_region')
    return [
      {
        ...{ row, code, name: field('name') || code, percent: percent ?? '0', from },
        ...{ account: field('account') || null, country: country || null },
        use: field('use') === '' ? 'sales' : (wordIn(useWords, field('use')) ?? 'unknown'),
        basis: wordIn(basisWords, field('basis')),
      },
    ]
  })
  return { taxes, asks: [] }
}

/** One event of the XML in which a central bank publishes its reference rates. */
export interface RateElement {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
}

/**
 * Reads reference rates as their published schema has them: a `Cube` with a `time` holds one `Cube` for each currency, with the `rate` that one euro is of it.
 * Gives them as rows of a list of rates. https://www.ecb.europa.eu/stats/policy_and_exchange_rates/euro_reference_exchange_rates/
 */
export const referenceRates = () => {
  let date = ''
  const records: (readonly [readonly string[], number])[] = []
  return {
    header: ['date', 'from', 'to', 'rate'] as const,
    records,
    take: ({ name, attributes }: RateElement): void => {
      if (name.replace(/^.*:/, '') !== 'Cube') return
      if (attributes.time !== undefined) date = attributes.time
      const { currency, rate } = attributes
      if (currency !== undefined && rate !== undefined && isCurrency(currency))
        records.push([[date, 'EUR', currency, rate], records.length + 2])
    },
  }
}
