import type { Kind } from '../activity/kinds.ts'

/**
 * Beginnings of words, folded, that account names use for a thing, in English, German, French, Spanish, Italian and
 * Dutch. A beginning of five letters or more also counts inside a word, for compounds.
 */
const words = {
  sales:
    'sale sales revenue turnover takings income erlos umsatz vente ventes ventas ingresos vendite ricavi verkopen omzet',
  returns:
    'return refund allowance retour erstattung erlosschmalerung gutschrift remboursement devolucion reso resi rimborso teruggave',
  shipping:
    'shipping postage delivery freight carriage versand porto fracht ports livraison envio spedizion trasporto verzend',
  discounts: 'discount promotional voucher rebate rabatt nachlass skonto remise descuento scont korting',
  selling:
    'commission marketplace selling referral provision verkaufsprovision place marche comision vendita commission commissie marktplaats',
  processing:
    'card processing merchant payment processor karte zahlungsgebuhr geldverkehr zahlung carte paiement tarjeta pago pagament carta kaart betaling betaalkost',
  fulfilment:
    'fulfilment fulfillment packing packaging warehousing storage out ausgangsfracht verpackung lager transport emballage logistique almacen embalaje magazzino imballagg verpakking opslag',
  advertising:
    'advertising ads promotion marketing promoted werbe werbung publicite annonce publicidad anuncio pubblicita reclame advertentie',
  subscription: 'subscription software store abonnement abonnements suscripcion abbonamento',
  bankCharges: 'bank service geldverkehr bancaire bancario bankkosten',
  giftCards: 'gift voucher certificate gutschein bons cadeau regalo cadeaubon',
  tips: 'tip tips gratuit trinkgeld pourboire propina mancia mance fooi',
  reserve:
    'reserve retained held holdback retention einbehalten sicherheit retenue reserva retencion ritenut inhouding',
  advance: 'advance loan lending vorschuss darlehen avance pret anticip prestamo prestito voorschot lening',
  cashDifference: 'over short difference variance cash kassendifferenz ecart caisse diferencia differenza kasverschil',
  rounding: 'rounding penny rundung arrondi redondeo arrotondamento afronding',
  chargebacks: 'chargeback dispute ruckbuchung rucklastschrift impaye contracargo storno terugboeking',
  sundry: 'sundry other miscellaneous divers sonstige diverse diversos vari overige',
  cash: 'cash till petty kasse caisse caja efectivo contanti cassa kas contant bar especes',
  card: 'card terminal karte kartenzahlung carte tarjeta carta kaart pin',
  outputTax: 'collected payable output sales umsatzsteuer mehrwertsteuer collectee repercutido vendite verschuldigd',
  inputTax: 'purchases input paid deductible vorsteuer abziehbar recoverable soportado acquisti voorbelasting',
  materials: 'cost goods materials used wareneingang achats marchandises compras acquisti inkoop',
  stock: 'stock inventory warenbestand bestand stocks existencias magazzino voorraad',
  surcharges: 'surcharge levy zuschlag supplement recargo supplemento toeslag',
  conversion: 'conversion exchange transit fremdwahrung change cambio wissel geldtransit',
  exchange: 'exchange kursgewinn kursdifferenz',
} as const
export type Concept = keyof typeof words

/** A kind's concepts: what an account for it is called, and what one for something else is called. */
interface Wanted {
  readonly called: readonly Concept[]
  readonly not?: readonly Concept[]
}

export const wantedOf: Readonly<Partial<Record<Kind, Wanted>>> = {
  sale: { called: ['sales'], not: ['returns', 'discounts', 'shipping', 'surcharges', 'sundry'] },
  collected: { called: ['sales'], not: ['returns', 'discounts', 'shipping', 'surcharges'] },
  collected_back: { called: ['returns'] },
  refund: { called: ['returns'], not: ['discounts'] },
  shipping: { called: ['shipping'], not: ['returns'] },
  shipping_refund: { called: ['shipping'] },
  discount: { called: ['discounts'], not: ['giftCards'] },
  other_charge: { called: ['sundry', 'surcharges'], not: ['returns', 'discounts', 'shipping'] },
  surcharge: { called: ['surcharges'], not: ['returns', 'discounts', 'shipping'] },
  tip: { called: ['tips'] },
  tax: { called: ['outputTax'], not: ['inputTax'] },
  tax_refund: { called: ['outputTax'], not: ['inputTax'] },
  tax_withheld: { called: ['outputTax'], not: ['inputTax'] },
  gift_card_sold: { called: ['giftCards'] },
  gift_card_redeemed: { called: ['giftCards'] },
  processing_fee: { called: ['processing'], not: ['selling', 'advertising'] },
  selling_fee: { called: ['selling'], not: ['advertising', 'processing', 'bankCharges'] },
  fulfilment_fee: { called: ['fulfilment', 'shipping'], not: ['advertising'] },
  advertising_fee: { called: ['advertising'] },
  subscription_fee: { called: ['subscription'] },
  other_fee: { called: ['sundry', 'bankCharges'] },
  fee_refund: { called: ['selling', 'processing'] },
  chargeback: { called: ['returns', 'chargebacks'], not: ['discounts'] },
  chargeback_reversal: { called: ['returns', 'chargebacks'], not: ['discounts'] },
  chargeback_fee: { called: ['chargebacks', 'processing', 'bankCharges'], not: ['selling'] },
  reserve_kept: { called: ['reserve'] },
  reserve_released: { called: ['reserve'] },
  advance_received: { called: ['advance'] },
  advance_repaid: { called: ['advance'] },
  adjustment: { called: ['sundry'], not: ['returns', 'shipping', 'exchange'] },
  cash_rounding: { called: ['rounding', 'cashDifference'] },
  cash_variance: { called: ['cashDifference'], not: ['rounding'] },
  purchase: { called: ['materials', 'stock'] },
  stock_received: { called: ['stock'] },
  supplier_credit: { called: ['stock'] },
  conversion: { called: ['conversion'] },
}

const stemsOf = Object.fromEntries(
  Object.entries(words).map(([concept, text]) => [concept, text.split(' ')]),
) as unknown as Readonly<Record<Concept, readonly string[]>>

const within = 5

/** True when a word of an account's name (folded) says the concept. */
export const says = (word: string, concept: Concept): boolean =>
  stemsOf[concept].some(stem =>
    stem.length <= 3 ? word === stem : word.startsWith(stem) || (stem.length >= within && word.includes(stem)),
  )

/** What a label of a means of payment stands for, where it is no name. */
export const meansOf = (label: readonly string[]): Concept | null =>
  label.some(word => says(word, 'cash')) ? 'cash' : label.some(word => says(word, 'card')) ? 'card' : null
