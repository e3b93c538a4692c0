import { accountsOf, type MeasuredChart } from './chart.ts'

/** A wool shop in Germany: German names, umlauts and compounds. */
export const wolleGermany: MeasuredChart = {
  name: 'a wool shop in Germany',
  accounts: accountsOf(`
    1200 Girokonto|bank
    1000 Kasse|current_asset
    1360 Geldtransit Marktplatz|clearing
    1361 Geldtransit Kartenzahlung|clearing
    1400 Forderungen aus Lieferungen|receivable
    1545 Einbehaltene Sicherheiten|current_asset
    1571 Abziehbare Vorsteuer|tax
    1600 Verbindlichkeiten aus Lieferungen|payable
    1700 Gutscheine im Umlauf|current_liability
    1705 Vorschuss Marktplatz|current_liability
    1750 Trinkgelder Personal|current_liability
    1776 Umsatzsteuer 19 %|tax
    1771 Umsatzsteuer 7 %|tax
    3200 Wareneingang Wolle|cost_of_sales
    3980 Warenbestand|inventory
    8400 Erlöse Wolle|income
    8410 Erlöse Nadeln und Zubehör|income
    8300 Erlöse Bücher|income
    8420 Erlöse Kurse|income
    8440 Versanderlöse|income
    8700 Erlösschmälerungen Retouren|income
    8730 Gewährte Rabatte|income
    2700 Sonstige betriebliche Erträge|other_income
    4600 Werbekosten|expense
    4730 Ausgangsfrachten und Verpackung|expense
    4760 Verkaufsprovisionen|expense
    4970 Nebenkosten des Geldverkehrs|expense
    4971 Zahlungsgebühren|expense
    4806 Abonnements und Software|expense
    4900 Sonstige betriebliche Aufwendungen|expense
    4905 Kassendifferenzen|expense
    4210 Miete|expense
  `),
  seen: [
    { kind: 'sale', category: 'Wolle', amount: 5_120_000, right: ['8400'] },
    { kind: 'sale', category: 'Nadeln', amount: 914_000, right: ['8410'] },
    { kind: 'sale', category: 'Bücher', amount: 322_000, right: ['8300'] },
    { kind: 'sale', category: 'Kurse', amount: 180_000, right: ['8420'] },
    { kind: 'shipping', amount: 402_000, right: ['8440'] },
    { kind: 'refund', amount: -218_000, right: ['8700'] },
    { kind: 'discount', amount: -95_000, right: ['8730'] },
    { kind: 'selling_fee', amount: -731_000, right: ['4760'] },
    { kind: 'processing_fee', amount: -84_000, right: ['4971', '4970'] },
    { kind: 'fulfilment_fee', amount: -122_000, right: ['4730'] },
    { kind: 'advertising_fee', amount: -143_000, right: ['4600'] },
    { kind: 'subscription_fee', amount: -11_700, right: ['4806'] },
    { kind: 'gift_card_sold', amount: 61_000, right: ['1700'] },
    { kind: 'gift_card_redeemed', amount: -48_000, right: ['1700'] },
    { kind: 'tip', amount: 3_400, right: ['1750'] },
    { kind: 'reserve_kept', amount: -250_000, right: ['1545'] },
    { kind: 'reserve_released', amount: 240_000, right: ['1545'] },
    { kind: 'advance_received', amount: 200_000, right: ['1705'] },
    { kind: 'advance_repaid', amount: -80_000, right: ['1705'] },
    { kind: 'cash_variance', amount: 420, right: ['4905'] },
    { kind: 'tender', gateway: 'Kasse', amount: -350_000, right: ['1000'] },
    { kind: 'tender', gateway: 'Karte', amount: -1_900_000, right: ['1361'] },
    { kind: 'tax', taxLabel: '19 %', region: 'DE', amount: 310_000, right: ['1776'] },
    { kind: 'tax', taxLabel: '7 %', region: 'DE', amount: 21_000, right: ['1771'] },
    { kind: 'chargeback', amount: -4_400, right: ['8700'] },
    { kind: 'adjustment', amount: 1_200, right: ['2700', '4900'] },
  ],
}
