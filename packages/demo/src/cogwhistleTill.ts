import { addDays, formatAmount } from '@culvert/core'
import { cogwhistleFrom, cogwhistleTo } from './cogwhistleSetup.ts'
import type { Row } from './openhall.ts'
import { seeded } from './random.ts'

/** Cogwhistle's till on the counter, and the bank account that its cash and card terminal go to. */
export interface CogwhistleTill {
  readonly tillstone: readonly Row[]
  readonly bank: readonly Row[]
}

/** Number of Cogwhistle's second account at Skerrymoor Mutual, as the bank writes it. */
export const tillBankNumber = 'CA00SKMR00000088120042'
/** How the bank writes what comes from the drawer, and from the terminal. */
export const drawerText = 'CASH DEPOSIT KINGSTON'
export const terminalText = /^TERMINAL WEEK TO /

const dollars = (minor: number): string => formatAmount(minor, 'CAD')
const weekday = (day: string): number => new Date(`${day}T12:00:00Z`).getUTCDay()
const offset = (day: string): string => (day < '2026-03-08' ? '-05:00' : '-04:00')
const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60) % 24).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}:00`

/** Repairs, parts, tips and a charge that the till calls a tax; on Fridays until after midnight; and orders of dealers, who get an invoice. */
export const makeCogwhistleTill = (seed = 20_260_309): CogwhistleTill => {
  const random = seeded(seed)
  const tillstone: Row[] = []
  const bank: Row[] = []
  const open = { cash: 0, terminal: 0 }
  let order = 300
  for (let day = cogwhistleFrom; day <= cogwhistleTo; day = addDays(day, 1)) {
    if (weekday(day) === 1) bankWeek(day, open, bank)
    if (weekday(day) === 0 || weekday(day) === 1) continue
    const late = weekday(day) === 5
    for (let count = random.whole(late ? 6 : 3, late ? 11 : 7); count > 0; count--) {
      const repair = random.chance(0.55)
      const dealer = !late && random.chance(0.04)
      const net = dealer
        ? random.whole(12, 40) * 1000
        : repair
          ? random.whole(30, 120) * 100
          : random.whole(8, 70) * 100 + 95
      // From nine to six; on Fridays the bench is open until two.
      const minute = late ? random.whole(9 * 60, 25 * 60 + 50) : random.whole(9 * 60, 18 * 60)
      const on = minute >= 24 * 60 ? addDays(day, 1) : day
      const supplies = repair && !dealer ? 300 : 0
      const tax = Math.round((net + supplies) * 0.13)
      const tip = repair && !dealer && random.chance(0.35) ? random.whole(2, 10) * 100 : 0
      const by = dealer ? 'On account' : random.pick(['Terminal', 'Cash'] as const, [72, 28])
      const paid = net + supplies + tax + tip
      const id = `C-${++order}`
      const line = (kind: string, amount: number, more: Row = {}): Row => ({
        line_id: `${id}-${kind}${more.tax_label === suppliesLabel ? '-supplies' : ''}`,
        occurred_at: `${on}T${clock(minute)}${offset(on)}`,
        ...{ kind, order_id: id, location: 'Kingston', currency: 'CAD', amount: dollars(amount), ...more },
      })
      const category = dealer ? 'Wholesale' : repair ? 'Repairs' : 'Parts'
      const description = dealer
        ? 'Parts for a dealer, by invoice'
        : repair
          ? 'Repair at the bench'
          : 'Parts over the counter'
      tillstone.push(
        line('sale', net, { category, description, quantity: '1' }),
        ...(supplies > 0 ? [line('tax', supplies, { tax_label: suppliesLabel })] : []),
        line('tax', tax, { tax_label: dealer ? 'HST by invoice' : 'HST' }),
        ...(tip > 0 ? [line('tip', tip)] : []),
        line('tender', -paid, { gateway: by }),
      )
      if (by === 'Cash') open.cash += paid
      if (by === 'Terminal') open.terminal += paid
    }
  }
  return { tillstone, bank: bank.map((row, index) => ({ ...row, line_id: `CT${String(index + 1).padStart(4, '0')}` })) }
}

/** What the till calls a tax, and is none: rags, grease and degreaser. */
export const suppliesLabel = 'Shop supplies'

/** On Mondays the week's cash is brought to the bank; what the terminal took comes with it. */
const bankWeek = (day: string, open: { cash: number; terminal: number }, bank: Row[]): void => {
  const row = (amount: number, description: string): Row => ({
    ...{ line_id: '', date: day, bank_account: tillBankNumber, amount: dollars(amount), currency: 'CAD' },
    ...{ description, reference: '' },
  })
  if (open.cash > 0) bank.push(row(open.cash, drawerText))
  if (open.terminal > 0) bank.push(row(open.terminal, `TERMINAL WEEK TO ${addDays(day, -1).replaceAll('-', '')}`))
  open.cash = 0
  open.terminal = 0
}

const account = (code: string, name: string, type: string, number: string | null = null) => ({
  ...{ code, name, type, currency: 'CAD', bankNumber: number },
})
export const tillAccounts = [
  account('10110', 'Skerrymoor till account 0042', 'bank', tillBankNumber),
  account('10200', 'Cash drawer', 'current_asset'),
  account('12400', 'Tillstone sales', 'clearing'),
  account('12600', 'Card terminal, on its way', 'current_asset'),
  account('23100', 'Tips owed to staff', 'current_liability'),
  account('40300', 'Shop supplies charged', 'income'),
]

const route = (kind: string, to: string | null, more: Row = {}, elsewhere = false) => ({
  ...{ routeId: null, kind, account: to, taxCode: null, source: 'tillstone', elsewhere, ...more },
})
/** Orders of dealers are invoiced apart: nothing of them is booked here. */
export const tillRoutes = [
  route('tip', '23100'),
  route('tax', '40300', { taxLabel: suppliesLabel }),
  route('tender', '10200', { gateway: 'Cash' }),
  route('tender', '12600', { gateway: 'Terminal' }),
  route('sale', null, { category: 'Wholesale' }, true),
  route('tax', null, { taxLabel: 'HST by invoice' }, true),
  route('tender', null, { gateway: 'On account' }, true),
]
