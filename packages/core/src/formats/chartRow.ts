import type { AccountType } from '../activity/kinds.ts'
import { foldText } from '../mapping/folded.ts'
import { isCurrency } from '../money/currency.ts'
import type { MeaningOf } from './columnMeanings.ts'
import type { FaultList } from './fault.ts'
import { proposeColumns } from './proposeColumns.ts'

/** An account as a list tells it. */
export interface ListedAccount {
  readonly row: number
  readonly code: string
  readonly name: string
  /** Null: its word is not known, and somebody has to say. */
  readonly type: AccountType | null
  readonly typeWord: string
  readonly currency: string
  readonly description: string
  readonly bankNumber: string | null
}

// What lists call the types, folded, in English, German, French, Spanish, Italian and Dutch.
const words: Readonly<Record<AccountType, string>> = {
  bank: 'bank,bank account,checking,current account,girokonto,bankkonto,banque,banco,cuenta bancaria,banca,conto corrente,bankrekening',
  card: 'card,credit card,kreditkarte,carte de credit,tarjeta de credito,carta di credito,creditcard',
  clearing:
    'clearing,clearing account,transit,verrechnung,verrechnungskonto,geldtransit,compte d attente,virements internes,cuenta de compensacion,conto transitorio,tussenrekening',
  receivable:
    'receivable,accounts receivable,trade debtors,debtors,forderungen,debitoren,clients,clientes,crediti,debiteuren,vorderingen',
  inventory: 'inventory,stock,vorrate,warenbestand,stocks,existencias,magazzino,rimanenze,voorraad,voorraden',
  current_asset:
    'current asset,current assets,other current asset,asset,umlaufvermogen,aktiv,aktiva,actif circulant,actif,activo corriente,activo,attivo circolante,attivo,attivita,vlottende activa,activa',
  fixed_asset:
    'fixed asset,fixed assets,anlagevermogen,immobilisations,activo no corriente,inmovilizado,immobilizzazioni,vaste activa',
  payable:
    'payable,accounts payable,trade creditors,creditors,verbindlichkeiten,kreditoren,fournisseurs,proveedores,debiti verso fornitori,crediteuren',
  current_liability:
    'current liability,current liabilities,other current liability,liability,passiv,passiva,passif,dettes,pasivo corriente,pasivo,passivo,passivita,debiti,kortlopende schulden,schulden',
  tax: 'tax,vat,sales tax,steuer,umsatzsteuer,vorsteuer,tva,taxe,iva,impuesto,imposte,btw,belasting',
  loan: 'loan,long term liability,darlehen,kredit,emprunt,prestamo,finanziamento,mutuo,lening',
  equity:
    'equity,capital,eigenkapital,kapital,capitaux propres,capitaux,patrimonio neto,patrimonio,capitale,eigen vermogen',
  income:
    'income,revenue,sales,turnover,ertrag,ertrage,erlos,erlose,umsatzerlose,produit,produits,revenu,ventes,ingreso,ingresos,ventas,ricavo,ricavi,opbrengst,opbrengsten,omzet',
  other_income:
    'other income,sonstige ertrage,sonstiger ertrag,autres produits,otros ingresos,altri ricavi,proventi,overige opbrengsten',
  cost_of_sales:
    'cost of sales,cost of goods sold,cost of goods,direct costs,wareneinsatz,wareneingang,achats,cout des ventes,coste de ventas,compras,costo del venduto,acquisti,inkoop,kostprijs',
  expense:
    'expense,expenses,overhead,overheads,aufwand,aufwendungen,kosten,charge,charges,depense,gasto,gastos,costo,costi,spese,kostenrekening,lasten',
}
const typeByWord = new Map(
  (Object.entries(words) as [AccountType, string][]).flatMap(([type, all]) =>
    [type.replaceAll('_', ' '), ...all.split(',')].map((word): [string, AccountType] => [word, type]),
  ),
)

/** The type that a word of a list stands for, in six languages; null: none that is known. */
export const accountTypeOf = (word: string): AccountType | null => typeByWord.get(foldText(word)) ?? null

export interface ChartReader {
  /** Null, with faults noted, where it is wrong. */
  read(record: readonly string[], row: number, faults: FaultList): ListedAccount | null
}

/** Finds the columns of a list of accounts by their names. Null, with faults of row 1 noted, where number or name is not found. `base`: the currency where none is told. */
export const chartReader = (
  header: readonly string[],
  {
    base,
    sample,
    faults,
  }: { readonly base: string; readonly sample: readonly (readonly string[])[]; readonly faults: FaultList },
): ChartReader | null => {
  const places = new Map(
    proposeColumns('chart', header, sample).flatMap(({ column, meaning }) =>
      meaning === null ? [] : [[meaning, column] as const],
    ),
  )
  for (const column of ['code', 'name'] as const)
    if (!places.has(column)) faults.add({ row: 1, column, value: header.join(', '), code: 'missing_column' })
  if (!places.has('code') || !places.has('name')) return null
  const seen = new Set<string>()
  return {
    read: (record, row, noted) => {
      const text = (meaning: MeaningOf<'chart'>): string => {
        const at = places.get(meaning)
        return at === undefined ? '' : (record[at] ?? '').replaceAll('\0', '').trim()
      }
      const [code, name] = [text('code'), text('name')]
      const before = noted.count
      const fault = (
        column: string,
        value: string,
        what: 'empty' | 'too_long' | 'twice_in_file' | 'unknown_currency',
      ) => noted.add({ row, column, value, code: what })
      if (code === '' && name === '') return null
      if (code === '') fault('code', '', 'empty')
      if (name === '') fault('name', '', 'empty')
      if (code.length > 20) fault('code', code, 'too_long')
      if (name.length > 200) fault('name', name, 'too_long')
      if (seen.has(code)) fault('code', code, 'twice_in_file')
      seen.add(code)
      const currency = text('currency').toUpperCase() || base
      if (!isCurrency(currency)) fault('currency', currency, 'unknown_currency')
      if (noted.count > before) return null
      const typeWord = text('type')
      const bankNumber = text('bank_number').replace(/\s+/g, '')
      return {
        ...{ row, code, name, typeWord, currency },
        type: accountTypeOf(typeWord),
        description: text('description').slice(0, 500),
        bankNumber: bankNumber === '' ? null : bankNumber,
      }
    },
  }
}
