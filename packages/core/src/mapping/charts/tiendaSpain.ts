import { accountsOf, type MeasuredChart } from './chart.ts'

/** A shop in Spain, written down after the starter map and its words were: what a chart unknown to it gives. */
export const tiendaSpain: MeasuredChart = {
  name: 'a shop in Spain, not known when the words were chosen',
  accounts: accountsOf(`
    57200 Bancos cuenta corriente|bank
    57000 Caja euros|current_asset
    43100 Cobros con tarjeta pendientes|clearing
    43200 Plataforma de venta en línea|clearing
    43000 Clientes|receivable
    56500 Fianzas y reservas retenidas|current_asset
    40000 Proveedores|payable
    43800 Vales y tarjetas regalo pendientes|current_liability
    46500 Propinas pendientes de pago|current_liability
    52000 Anticipos recibidos de la plataforma|current_liability
    47700 IVA repercutido|tax
    47200 IVA soportado|tax
    30000 Existencias de mercaderías|inventory
    60000 Compras de mercaderías|cost_of_sales
    70010 Ventas de cerámica|income
    70020 Ventas de textil|income
    70030 Ventas de libros|income
    70500 Prestación de servicios, talleres|income
    75900 Gastos de envío repercutidos|income
    70800 Devoluciones de ventas|income
    70600 Descuentos sobre ventas|income
    77800 Ingresos excepcionales|other_income
    62310 Comisiones de la plataforma|expense
    62600 Comisiones por cobro con tarjeta|expense
    62700 Publicidad y propaganda|expense
    62400 Transportes y embalajes|expense
    62900 Suscripciones informáticas|expense
    65900 Otros gastos de gestión|expense
    65910 Diferencias de caja|expense
    62100 Arrendamientos|expense
  `),
  seen: [
    { kind: 'sale', category: 'Cerámica', amount: 2_730_000, right: ['70010'] },
    { kind: 'sale', category: 'Textil', amount: 1_210_000, right: ['70020'] },
    { kind: 'sale', category: 'Libros', amount: 240_000, right: ['70030'] },
    { kind: 'sale', category: 'Talleres', amount: 330_000, right: ['70500'] },
    { kind: 'shipping', amount: 261_000, right: ['75900'] },
    { kind: 'refund', amount: -151_000, right: ['70800'] },
    { kind: 'discount', amount: -61_000, right: ['70600'] },
    { kind: 'selling_fee', amount: -480_000, right: ['62310'] },
    { kind: 'processing_fee', amount: -71_000, right: ['62600'] },
    { kind: 'fulfilment_fee', amount: -40_000, right: ['62400'] },
    { kind: 'advertising_fee', amount: -50_000, right: ['62700'] },
    { kind: 'subscription_fee', amount: -11_700, right: ['62900'] },
    { kind: 'gift_card_sold', amount: 49_000, right: ['43800'] },
    { kind: 'gift_card_redeemed', amount: -29_000, right: ['43800'] },
    { kind: 'tip', amount: 2_600, right: ['46500'] },
    { kind: 'reserve_kept', amount: -110_000, right: ['56500'] },
    { kind: 'reserve_released', amount: 108_000, right: ['56500'] },
    { kind: 'advance_received', amount: 80_000, right: ['52000'] },
    { kind: 'advance_repaid', amount: -20_000, right: ['52000'] },
    { kind: 'cash_variance', amount: -190, right: ['65910'] },
    { kind: 'tender', gateway: 'Efectivo', amount: -310_000, right: ['57000'] },
    { kind: 'tender', gateway: 'Tarjeta', amount: -1_500_000, right: ['43100'] },
    { kind: 'tax', taxLabel: 'IVA 21', region: 'ES', amount: 380_000, right: ['47700'] },
    { kind: 'purchase', category: 'Mercaderías', amount: -90_000, right: ['60000', '30000'] },
    { kind: 'adjustment', amount: -600, right: ['65900', '77800'] },
  ],
}
