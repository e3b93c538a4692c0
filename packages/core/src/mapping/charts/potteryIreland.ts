import { accountsOf, type MeasuredChart } from './chart.ts'

/** A pottery in Ireland: English names, sales split by category, marketplace and own shop. */
export const potteryIreland: MeasuredChart = {
  name: 'a pottery in Ireland',
  accounts: accountsOf(`
    1000 Skerrymoor current account|bank
    1200 Trade debtors|receivable
    1210 Openhall clearing|clearing
    1220 Brookpay clearing|clearing
    1230 Oddpurse wallet|clearing
    1240 Cash in till|current_asset
    1300 Reserve kept by Openhall|current_asset
    1400 Stock of clay and glaze|inventory
    2100 Trade creditors|payable
    2200 VAT payable|tax
    2210 VAT on purchases|tax
    2300 Gift vouchers outstanding|current_liability
    2310 Customer deposits|current_liability
    2320 Tips owed to staff|current_liability
    2400 Advance from Openhall|current_liability
    3000 Owner's equity|equity
    4000 Sales, tableware|income
    4010 Sales, glaze kits|income
    4020 Sales, classes|income
    4030 Sales, books|income
    4100 Postage charged|income
    4200 Sales returns|income
    4210 Discounts given|income
    4300 Interest received|other_income
    4900 Sundry income|other_income
    5000 Clay and glaze used|cost_of_sales
    6000 Marketplace commission|expense
    6010 Card processing charges|expense
    6020 Advertising|expense
    6030 Subscriptions and software|expense
    6040 Packing and fulfilment|expense
    6050 Bank charges|expense
    6100 Wages|expense
    6200 Rent|expense
    6900 Cash over and short|expense
    6910 Sundry expenses|expense
  `),
  seen: [
    { kind: 'sale', category: 'Tableware', amount: 4_612_000, right: ['4000'] },
    { kind: 'sale', category: 'Glaze kits', amount: 1_047_000, right: ['4010'] },
    { kind: 'sale', category: 'Classes', amount: 742_000, right: ['4020'] },
    { kind: 'sale', category: 'Books', amount: 191_000, right: ['4030'] },
    { kind: 'shipping', amount: 616_000, right: ['4100'] },
    { kind: 'shipping_refund', amount: -14_000, right: ['4100', '4200'] },
    { kind: 'refund', amount: -134_000, right: ['4200'] },
    { kind: 'discount', amount: -57_000, right: ['4210'] },
    { kind: 'other_charge', category: 'Gift wrap', amount: 6_200, right: ['4900', ''] },
    { kind: 'tip', amount: 21_000, right: ['2320'] },
    { kind: 'gift_card_sold', amount: 150_000, right: ['2300'] },
    { kind: 'gift_card_redeemed', amount: -96_000, right: ['2300'] },
    { kind: 'selling_fee', amount: -1_074_000, right: ['6000'] },
    { kind: 'processing_fee', amount: -138_000, right: ['6010'] },
    { kind: 'fulfilment_fee', amount: -61_000, right: ['6040'] },
    { kind: 'advertising_fee', amount: -87_000, right: ['6020'] },
    { kind: 'subscription_fee', amount: -11_700, right: ['6030'] },
    { kind: 'chargeback', amount: -8_800, right: ['4200'] },
    { kind: 'chargeback_fee', amount: -3_000, right: ['6010', '6050'] },
    { kind: 'reserve_kept', amount: -404_000, right: ['1300'] },
    { kind: 'reserve_released', amount: 418_000, right: ['1300'] },
    { kind: 'advance_received', amount: 160_000, right: ['2400'] },
    { kind: 'advance_repaid', amount: -160_000, right: ['2400'] },
    { kind: 'cash_variance', amount: -310, right: ['6900'] },
    { kind: 'cash_rounding', amount: -44, right: ['6900'] },
    { kind: 'tender', gateway: 'Cash', amount: -212_000, right: ['1240'] },
    { kind: 'tender', gateway: 'Brookpay', amount: -2_460_000, right: ['1220'] },
    { kind: 'purchase', category: 'Clay', amount: -88_000, right: ['5000', '1400'] },
    { kind: 'adjustment', amount: 2_900, right: ['6910', '4900'] },
  ],
}
