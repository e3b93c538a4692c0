import type { Kind } from '../activity/kinds.ts'
import { foldText } from '../mapping/folded.ts'

/** Which of the kinds a source of a shape reports: a gateway collects what a channel sells. */
export type SourceShape = 'combined' | 'channel' | 'gateway'

// What files call the kinds, folded, in English, German, French, Spanish, Italian and Dutch.
const words = {
  sold: 'sale,sales,purchase,payment,order,charge,capture,captured,payment received,collected,card payment,verkauf,zahlung,kauf,zahlungseingang,bestellung,vente,paiement,achat,encaissement,cobro,venta,pago,compra,incasso,vendita,pagamento,betaling,verkoop',
  refund:
    'refund,refunded,return,payment refund,erstattung,ruckerstattung,ruckzahlung,remboursement,devolucion,reembolso,rimborso,terugbetaling',
  payout:
    'payout,withdrawal,payout to bank,transfer to bank,auszahlung,versement,virement,abono en cuenta,liquidacion,accredito,uitbetaling',
  processing_fee:
    'fee,processing fee,payment fee,transaction fee,gebuhr,zahlungsgebuhr,frais,tarifa,spese,kosten,transactiekosten',
  selling_fee: 'commission,selling fee,referral fee,provision,verkaufsprovision,comision,commissione,commissie',
  advertising_fee:
    'advertising,advertising fee,promoted listing,werbung,werbekosten,publicite,publicidad,pubblicita,reclame,werbegebuhr',
  subscription_fee: 'subscription,subscription fee,monthly fee,abonnement,suscripcion,abbonamento',
  fulfilment_fee: 'fulfilment,fulfilment fee,fulfillment fee,dispatch fee,versandgebuhr,logistique,logistica',
  chargeback:
    'chargeback,dispute,disputed,ruckbuchung,ruckbelastung,litige,impaye,contracargo,disputa,contestazione,terugboeking',
  chargeback_reversal: 'chargeback reversal,dispute won,chargeback won,reversed chargeback',
  chargeback_fee: 'chargeback fee,dispute fee',
  shipping: 'shipping,postage,delivery,versand,porto,livraison,port,envio,spedizione,verzending,verzendkosten',
  discount: 'discount,voucher,promotion,rabatt,gutschein,remise,descuento,sconto,korting',
  tip: 'tip,gratuity,trinkgeld,pourboire,propina,mancia,fooi',
  tax: 'tax,vat,sales tax,steuer,mehrwertsteuer,umsatzsteuer,tva,iva,btw',
  reserve_kept: 'reserve,reserve kept,reserve hold,reserve held,einbehalt,retenue,reserva,ritenuta,inhouding',
  reserve_released:
    'reserve release,reserve released,release of reserve,freigabe,liberation de retenue,rilascio riserva,vrijgave',
  adjustment: 'adjustment,correction,korrektur,anpassung,ajustement,ajuste,rettifica,correctie',
  transfer_in: 'top up,topup,deposit from bank,aufladung,einzahlung,approvisionnement,recarga,ricarica,opwaardering',
  gift_card_sold: 'gift card sold,gift card,geschenkgutschein,carte cadeau,tarjeta regalo,buono regalo,cadeaubon',
  purchase:
    'spending,payment sent,expense,money sent,zahlung gesendet,paiement envoye,pago enviado,pagamento inviato,betaling verzonden',
} as const

/** What a file's word for a movement stands for. */
export interface KindProposal {
  readonly kind: Kind | null
  /** It is the very word, of a sort that nobody doubts, and its amounts have the sign of its kind. */
  readonly sure: boolean
  /** Its amounts are written against the usual sign of its kind. */
  readonly reversed: boolean
}

/** Kinds of which a word says little: whether a dispute was lost is not in its name. */
const doubtful: ReadonlySet<string> = new Set([
  'chargeback',
  'adjustment',
  'reserve_kept',
  'tax',
  'gift_card_sold',
  'purchase',
])
const negative: ReadonlySet<string> = new Set([
  ...['refund', 'payout', 'processing_fee', 'selling_fee', 'advertising_fee', 'subscription_fee', 'fulfilment_fee'],
  ...['chargeback', 'chargeback_fee', 'discount', 'reserve_kept', 'purchase'],
])
const eitherSign: ReadonlySet<string> = new Set(['adjustment'])

const pointsOf = (word: string, phrases: string): number => {
  let most = 0
  for (const phrase of phrases.split(',')) {
    if (word === phrase) return 100
    if (` ${word} `.includes(` ${phrase} `)) most = Math.max(most, 10 + phrase.length)
  }
  return most
}

/**
 * The kind that a file's word stands for at a source of a shape. `signs`: how many of its amounts are above and below zero; what was sold for less than nothing was
 * not sold.
 */
export const proposeKind = (
  word: string,
  shape: SourceShape,
  signs: { readonly plus: number; readonly minus: number },
): KindProposal => {
  const folded = foldText(word)
  const scored = Object.entries<string>(words)
    .map(([name, phrases]) => ({ name, points: pointsOf(folded, phrases) }))
    .filter(one => one.points > 0)
    .sort((left, right) => right.points - left.points)
  const [best, next] = scored
  if (!best) return { kind: null, sure: false, reversed: false }
  const usuallyMinus = negative.has(best.name)
  const mixed = signs.plus > 0 && signs.minus > 0
  const against = usuallyMinus ? signs.plus > 0 : signs.minus > 0
  const whole = best.points === 100 && (next?.points ?? 0) < 100
  return {
    kind: kindOf(best.name as keyof typeof words, shape),
    sure: whole && !doubtful.has(best.name) && !against && !mixed,
    reversed: against && !mixed && !eitherSign.has(best.name),
  }
}

const kindOf = (name: keyof typeof words, shape: SourceShape): Kind => {
  if (name === 'sold') return shape === 'gateway' ? 'collected' : 'sale'
  if (name === 'refund') return shape === 'gateway' ? 'collected_back' : 'refund'
  return name
}
