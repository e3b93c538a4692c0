import { accountsOf, type MeasuredChart } from './chart.ts'

/** A boutique in France: French names and long account numbers. */
export const boutiqueFrance: MeasuredChart = {
  name: 'a boutique in France',
  accounts: accountsOf(`
    512000 Banque compte courant|bank
    530000 Caisse|current_asset
    511500 Encaissements par carte à recevoir|clearing
    511600 Place de marché à recevoir|clearing
    411000 Clients|receivable
    467100 Réserve retenue par la place de marché|current_asset
    401000 Fournisseurs|payable
    419700 Bons cadeaux émis|current_liability
    428600 Pourboires à reverser|current_liability
    168800 Avances de la place de marché|loan
    445710 TVA collectée|tax
    445660 TVA déductible|tax
    370000 Stock de marchandises|inventory
    607000 Achats de marchandises|cost_of_sales
    707100 Ventes vaisselle|income
    707200 Ventes bijoux|income
    707300 Ventes livres|income
    706000 Ateliers et cours|income
    708500 Ports et frais de livraison facturés|income
    709000 Retours et remboursements|income
    709700 Remises accordées|income
    758000 Produits divers de gestion|other_income
    622200 Commissions de la place de marché|expense
    627800 Frais de paiement par carte|expense
    623100 Publicité et annonces|expense
    624200 Transports sur ventes et emballages|expense
    651100 Abonnements logiciels|expense
    658000 Charges diverses de gestion|expense
    658100 Écarts de caisse|expense
    627000 Services bancaires|expense
    613200 Locations|expense
  `),
  seen: [
    { kind: 'sale', category: 'Vaisselle', amount: 2_930_000, right: ['707100'] },
    { kind: 'sale', category: 'Bijoux', amount: 1_410_000, right: ['707200'] },
    { kind: 'sale', category: 'Livres', amount: 260_000, right: ['707300'] },
    { kind: 'sale', category: 'Ateliers', amount: 390_000, right: ['706000'] },
    { kind: 'shipping', amount: 281_000, right: ['708500'] },
    { kind: 'refund', amount: -171_000, right: ['709000'] },
    { kind: 'shipping_refund', amount: -9_000, right: ['708500', '709000'] },
    { kind: 'discount', amount: -66_000, right: ['709700'] },
    { kind: 'selling_fee', amount: -502_000, right: ['622200'] },
    { kind: 'processing_fee', amount: -73_000, right: ['627800'] },
    { kind: 'fulfilment_fee', amount: -41_000, right: ['624200'] },
    { kind: 'advertising_fee', amount: -58_000, right: ['623100'] },
    { kind: 'subscription_fee', amount: -11_700, right: ['651100'] },
    { kind: 'gift_card_sold', amount: 52_000, right: ['419700'] },
    { kind: 'gift_card_redeemed', amount: -31_000, right: ['419700'] },
    { kind: 'tip', amount: 2_800, right: ['428600'] },
    { kind: 'reserve_kept', amount: -120_000, right: ['467100'] },
    { kind: 'reserve_released', amount: 118_000, right: ['467100'] },
    { kind: 'advance_received', amount: 90_000, right: ['168800'] },
    { kind: 'advance_repaid', amount: -30_000, right: ['168800'] },
    { kind: 'cash_variance', amount: -210, right: ['658100'] },
    { kind: 'tender', gateway: 'Caisse', amount: -330_000, right: ['530000'] },
    { kind: 'tender', gateway: 'Carte bancaire', amount: -1_700_000, right: ['511500'] },
    { kind: 'tax', taxLabel: 'TVA 20', region: 'FR', amount: 402_000, right: ['445710'] },
    { kind: 'chargeback', amount: -3_300, right: ['709000'] },
    { kind: 'adjustment', amount: -700, right: ['658000', '758000'] },
  ],
}
