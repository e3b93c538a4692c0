import { accountsOf, type MeasuredChart } from './chart.ts'

/** A repair workshop in Ontario: a till, labour and parts, abbreviations and long names side by side. */
export const workshopOntario: MeasuredChart = {
  name: 'a repair workshop in Ontario',
  accounts: accountsOf(`
    1010 Chequing|bank
    1015 US dollar account|bank
    1060 Petty cash and till float|current_asset
    1100 Card terminal clearing|clearing
    1110 Web shop clearing|clearing
    1200 Accounts receivable - wholesale|receivable
    1400 Parts inventory|inventory
    2000 Accounts payable|payable
    2050 Company credit card|card
    2310 HST collected|tax
    2315 QST collected|tax
    2320 HST paid on purchases|tax
    2400 Gratuities payable|current_liability
    2410 Gift certificates|current_liability
    2500 Term loan|loan
    3100 Retained earnings|equity
    4010 Repair labour revenue|income
    4020 Parts revenue|income
    4030 Bicycle accessories revenue|income
    4050 Freight recovered from customers|income
    4060 Environmental levy and surcharge income|income
    4090 Returns and allowances|income
    4095 Promotional discounts|income
    4500 Foreign exchange gain|other_income
    5010 Cost of parts sold|cost_of_sales
    5600 Freight out|expense
    5700 Merchant service fees|expense
    5710 Bank service charges|expense
    5720 Online store subscription|expense
    5730 Ads and promotion|expense
    5800 Cash short and over|expense
    5850 Penny rounding|expense
    5900 Office supplies|expense
    5950 Chargeback losses|expense
  `),
  seen: [
    { kind: 'sale', category: 'Repair labour', amount: 3_204_000, right: ['4010'] },
    { kind: 'sale', category: 'Parts', amount: 2_150_000, right: ['4020'] },
    { kind: 'sale', category: 'Accessories', amount: 870_000, right: ['4030'] },
    { kind: 'refund', amount: -93_000, right: ['4090'] },
    { kind: 'discount', category: 'Staff discount', amount: -41_000, right: ['4095'] },
    { kind: 'shipping', amount: 77_000, right: ['4050'] },
    { kind: 'surcharge', category: 'Environmental levy', amount: 31_000, right: ['4060'] },
    { kind: 'tip', amount: 64_000, right: ['2400'] },
    { kind: 'gift_card_sold', amount: 45_000, right: ['2410'] },
    { kind: 'gift_card_redeemed', amount: -39_000, right: ['2410'] },
    { kind: 'processing_fee', method: 'credit', amount: -121_000, right: ['5700'] },
    { kind: 'subscription_fee', amount: -23_700, right: ['5720'] },
    { kind: 'advertising_fee', amount: -18_000, right: ['5730'] },
    { kind: 'fulfilment_fee', amount: -52_000, right: ['5600'] },
    { kind: 'chargeback', amount: -7_700, right: ['4090', '5950'] },
    { kind: 'chargeback_fee', amount: -1_500, right: ['5700', '5710', '5950'] },
    { kind: 'cash_variance', amount: -1_250, right: ['5800'] },
    { kind: 'cash_rounding', amount: 32, right: ['5850'] },
    { kind: 'tender', gateway: 'Cash', amount: -640_000, right: ['1060'] },
    { kind: 'tender', gateway: 'Card', amount: -4_800_000, right: ['1100'] },
    { kind: 'tax', taxLabel: 'HST', amount: 812_000, right: ['2310'] },
    { kind: 'tax', taxLabel: 'QST', amount: 7_400, right: ['2315'] },
    { kind: 'tax_refund', taxLabel: 'HST', amount: -12_000, right: ['2310'] },
    { kind: 'stock_received', category: 'Parts', amount: 410_000, right: ['1400'] },
    { kind: 'reserve_kept', amount: -60_000, right: [''] },
    { kind: 'adjustment', amount: 900, right: ['4500', '5900', ''] },
  ],
}
