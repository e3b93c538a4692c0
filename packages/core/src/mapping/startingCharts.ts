import type { AccountType } from '../activity/kinds.ts'

/** An account that somebody may begin with. */
export interface StartingAccount {
  readonly code: string
  readonly name: string
  readonly type: AccountType
}

/** A small chart for whoever has none, in a language and by the numbering that is common in its countries. */
export interface StartingChart {
  /** BCP 47 language of its names. */
  readonly language: string
  /** How its numbers are arranged, in a few words. */
  readonly numbering: string
  readonly accounts: readonly StartingAccount[]
}

const types =
  `bank current_asset receivable inventory current_asset current_asset payable current_liability current_liability current_liability tax tax
  equity equity income income income income other_income cost_of_sales expense expense expense expense expense expense expense expense expense other_income`
    .trim()
    .split(/\s+/) as AccountType[]

// One row per account in the order of `types`: current account, cash, receivables, stock, disputed payments, reserves kept, payables, gift cards, advances,
// tips, tax on sales, tax on purchases, capital, opening balances, sales, postage, returns, discounts, other income, cost of goods, card fees, selling fees, dispatch,
// advertising, subscriptions, bank charges, sundry, cash differences, rounding, exchange differences.
const chartOf = (language: string, numbering: string, rows: string): StartingChart => ({
  language,
  numbering,
  accounts: rows
    .trim()
    .split('\n')
    .map((row, at) => {
      const [, code = '', name = ''] = /^\s*(\S+)\s+(.+?)\s*$/.exec(row) ?? []
      return { code, name, type: types[at] as AccountType }
    })
    .sort((left, right) => (left.code < right.code ? -1 : 1)),
})

const british = chartOf(
  'en',
  'four digits: 1 assets, 2 liabilities, 3 capital, 4 income, 5 cost of sales, 6 and 7 expenses',
  `
  1000 Bank current account
  1050 Cash in hand
  1100 Trade debtors
  1150 Stock
  1160 Disputed payments
  1170 Reserves kept by processors
  2000 Trade creditors
  2100 Gift cards outstanding
  2150 Advances of processors
  2160 Tips for staff
  2200 VAT on sales
  2210 VAT on purchases
  3000 Capital
  3090 Opening balances
  4000 Sales
  4100 Postage charged
  4200 Sales returns
  4210 Discounts allowed
  4900 Other income
  5000 Cost of goods sold
  6000 Card processing fees
  6010 Selling fees
  6020 Dispatch and packing
  6100 Advertising
  6200 Subscriptions and software
  6300 Bank charges
  6900 Sundry expenses
  6910 Cash over and short
  6920 Rounding
  4910 Exchange differences`,
)

const american = chartOf(
  'en',
  'five digits: 1 assets, 2 liabilities, 3 equity, 4 income, 5 cost of goods, 6 expenses',
  `
  10100 Checking account
  10200 Cash on hand
  11000 Accounts receivable
  12000 Inventory
  12500 Disputed payments
  12600 Reserves held by processors
  20000 Accounts payable
  21000 Gift cards outstanding
  21500 Advances from processors
  21600 Tips payable
  22000 Sales tax payable
  22100 Sales tax paid
  30000 Owner’s equity
  39000 Opening balances
  40000 Sales
  41000 Shipping income
  42000 Returns and allowances
  42100 Discounts given
  49000 Other income
  50000 Cost of goods sold
  60100 Merchant processing fees
  60200 Marketplace selling fees
  60300 Fulfillment and packing
  61000 Advertising
  62000 Subscriptions and software
  63000 Bank service charges
  69000 Miscellaneous expense
  69100 Cash over and short
  69200 Rounding
  49100 Exchange gains and losses`,
)

const german = chartOf(
  'de',
  'vier Stellen: 0 bis 1 Bestand und Geld, 2 Abgrenzung, 3 Wareneingang, 4 Aufwand, 8 Erlöse',
  `
  1200 Girokonto
  1000 Kasse
  1400 Forderungen aus Lieferungen und Leistungen
  3980 Warenbestand
  1366 Strittige Zahlungen
  1545 Einbehaltene Sicherheiten
  1600 Verbindlichkeiten aus Lieferungen und Leistungen
  1700 Gutscheine im Umlauf
  1705 Vorschüsse der Zahlungsdienste
  1750 Trinkgelder Personal
  1776 Umsatzsteuer
  1576 Abziehbare Vorsteuer
  0800 Eigenkapital
  9000 Saldenvorträge
  8400 Erlöse
  8440 Versanderlöse
  8700 Erlösschmälerungen Retouren
  8730 Gewährte Rabatte
  2700 Sonstige betriebliche Erträge
  3200 Wareneingang
  4971 Zahlungsgebühren
  4760 Verkaufsprovisionen
  4730 Ausgangsfrachten und Verpackung
  4600 Werbekosten
  4806 Abonnements und Software
  4970 Nebenkosten des Geldverkehrs
  4900 Sonstige betriebliche Aufwendungen
  4905 Kassendifferenzen
  4906 Rundungsdifferenzen
  2660 Kursdifferenzen`,
)

const french = chartOf(
  'fr',
  'six chiffres par classe : 1 capitaux, 3 stocks, 4 tiers, 5 finances, 6 charges, 7 produits',
  `
  512000 Banque
  530000 Caisse
  411000 Clients
  370000 Stocks de marchandises
  467100 Paiements contestés
  467200 Retenues de garantie
  401000 Fournisseurs
  419700 Bons cadeaux en circulation
  168100 Avances reçues
  421500 Pourboires du personnel
  445710 TVA collectée
  445660 TVA déductible
  101000 Capital
  890000 Bilan d’ouverture
  707000 Ventes de marchandises
  708500 Ports facturés
  709700 Remboursements sur ventes
  709800 Remises accordées
  758000 Produits divers
  607000 Achats de marchandises
  627800 Frais de paiement par carte
  622200 Commissions de vente
  624200 Transports et emballages
  623100 Publicité
  651100 Abonnements et logiciels
  627100 Frais bancaires
  658000 Charges diverses
  658100 Écarts de caisse
  658200 Écarts d’arrondi
  766000 Différences de change`,
)

const spanish = chartOf(
  'es',
  'grupos: 1 financiación, 3 existencias, 4 terceros, 5 finanzas, 6 gastos, 7 ingresos',
  `
  572000 Banco
  570000 Caja
  430000 Clientes
  300000 Existencias
  440100 Pagos en disputa
  565000 Retenciones de garantía
  400000 Proveedores
  438100 Tarjetas regalo en circulación
  520100 Anticipos recibidos
  465100 Propinas del personal
  477000 IVA repercutido
  472000 IVA soportado
  100000 Capital
  129900 Asiento de apertura
  700000 Ventas
  705100 Ingresos por envío
  708000 Devoluciones de ventas
  706000 Descuentos concedidos
  759000 Ingresos diversos
  600000 Compras de mercaderías
  626100 Gastos de pago con tarjeta
  623100 Comisiones de venta
  624000 Transportes y embalajes
  627000 Publicidad
  629100 Suscripciones y software
  626000 Servicios bancarios
  629000 Gastos diversos
  678100 Diferencias de caja
  678200 Diferencias de redondeo
  768000 Diferencias de cambio`,
)

const italian = chartOf(
  'it',
  'quattro cifre: 1 attivo, 2 passivo, 3 capitale, 4 ricavi, 5 acquisti, 6 costi',
  `
  1010 Conto corrente bancario
  1000 Cassa contanti
  1100 Crediti verso clienti
  1200 Magazzino
  1250 Pagamenti contestati
  1260 Ritenute a garanzia
  2000 Debiti verso fornitori
  2100 Buoni regalo in circolazione
  2150 Anticipi ricevuti
  2160 Mance del personale
  2200 IVA vendite
  2210 IVA acquisti
  3000 Capitale
  3900 Bilancio di apertura
  4000 Ricavi di vendita
  4100 Spedizioni addebitate
  4200 Resi su vendite
  4210 Sconti concessi
  4900 Proventi diversi
  5000 Acquisti di merce
  6000 Spese di pagamento con carta
  6010 Commissioni di vendita
  6020 Trasporti e imballaggi
  6100 Pubblicità
  6200 Abbonamenti e software
  6300 Spese bancarie
  6900 Oneri diversi
  6910 Differenze di cassa
  6920 Arrotondamenti
  4910 Differenze di cambio`,
)

const dutch = chartOf(
  'nl',
  'vier cijfers: 0 eigen vermogen, 1 geld en tussenrekeningen, 3 voorraad, 4 kosten, 7 inkoop, 8 omzet',
  `
  1100 Bank
  1000 Kas
  1300 Debiteuren
  3000 Voorraad
  1350 Betwiste betalingen
  1360 Inhoudingen door betaaldiensten
  1600 Crediteuren
  1700 Cadeaubonnen in omloop
  1710 Voorschotten
  1720 Fooien personeel
  1500 Verschuldigde btw
  1510 Voorbelasting
  0500 Eigen vermogen
  0900 Openingsbalans
  8000 Omzet
  8100 Verzendkosten in rekening gebracht
  8200 Retouren
  8210 Verleende kortingen
  8900 Overige opbrengsten
  7000 Inkoop
  4600 Betaalkosten
  4610 Verkoopcommissie
  4620 Transport en verpakking
  4500 Reclame
  4400 Abonnementen en software
  4650 Bankkosten
  4900 Overige kosten
  4910 Kasverschillen
  4920 Afrondingsverschillen
  8910 Koersverschillen`,
)

const byCountry: Readonly<Record<string, StartingChart>> = {
  ...{ IE: british, GB: british, AU: british, NZ: british, ZA: british, MT: british, CY: british },
  ...{ US: american, CA: american },
  ...{ DE: german, AT: german, LI: german, CH: german },
  ...{ FR: french, LU: french, MC: french },
  ...{ ES: spanish, MX: spanish },
  ...{ IT: italian, SM: italian },
  ...{ NL: dutch, BE: dutch },
}
const byLanguage: Readonly<Record<string, StartingChart>> = {
  de: german,
  fr: french,
  es: spanish,
  it: italian,
  nl: dutch,
}

/**
 * The chart to begin with: by the country, where its language is the client's or the country is not known by the language; else by the language.
 * @example startingChart('DE', 'de-DE').accounts[0] // { code: '1200', name: 'Girokonto', type: 'bank' }
 */
export const startingChart = (country: string | null, locale: string): StartingChart => {
  const language = locale.slice(0, locale.indexOf('-') < 0 ? undefined : locale.indexOf('-'))
  const there = country === null ? undefined : byCountry[country]
  if (there?.language === language) return there
  return byLanguage[language] ?? (there?.language === 'en' ? there : british)
}
