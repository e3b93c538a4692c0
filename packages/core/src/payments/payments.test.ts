import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { editDistance } from '../mapping/editDistance.ts'
import { applyPayment, refundable } from './applyPayment.ts'
import { decideAct, usualActs } from './decideAct.ts'
import { recorded, sumDraft } from './draftBatch.ts'
import { type Customer, findCustomers, type Payer } from './findCustomers.ts'
import { type Collection, findInvoices, type OpenInvoice } from './findInvoices.ts'
import { refundBatches } from './refundBatches.ts'

const customer = (code: string, name: string, more: Partial<Customer> = {}): Customer => ({
  code,
  name,
  otherNames: [],
  emails: [],
  sourceIds: {},
  ...more,
})
const payer = (more: Partial<Payer>): Payer => ({
  source: 'openhall',
  customerId: null,
  email: null,
  name: null,
  ...more,
})
const invoice = (number: string, open: number, more: Partial<OpenInvoice> = {}): OpenInvoice => ({
  number,
  customer: 'C1',
  currency: 'EUR',
  open,
  date: '2026-03-01',
  due: '2026-03-31',
  ...more,
})
const collection = (amount: number, ...texts: string[]): Collection => ({
  currency: 'EUR',
  amount,
  date: '2026-03-10',
  texts,
})

describe('who may have paid', () => {
  const customers = [
    customer('C1', 'Orla Quill', { emails: ['orla@kilnlane.example'], sourceIds: { openhall: '77' } }),
    customer('C2', 'Bramble & Fitch Ltd', { otherNames: ['B and F Pottery'] }),
    customer('C3', 'Bramble and Finch Ltd'),
    customer('C4', 'Quill, Orla'),
  ]
  const found = (more: Partial<Payer>) =>
    findCustomers(payer(more), customers).map(one => `${one.customer.code} by ${one.by}`)
  it('is told by id, e-mail, name, and a name with a slip of the pen, the most telling alone', () => {
    expect(found({ customerId: '77', name: 'Somebody' })).toEqual(['C1 by customer_id'])
    expect(found({ customerId: '77', source: 'stall' })).toEqual([])
    expect(found({ email: ' ORLA@kilnlane.example', name: 'Bramble Fitch' })).toEqual(['C1 by email'])
    expect(found({ name: 'BRAMBLE  FITCH' })).toEqual(['C2 by exact_name'])
    expect(found({ name: 'pottery b and f' })).toEqual(['C2 by exact_name'])
    expect(found({ name: 'Bramble Fihtc' })).toEqual(['C2 by like_name'])
    expect(found({ name: 'Nobody' })).toEqual([])
    expect(found({})).toEqual([])
  })
  it('names all of equal evidence', () =>
    expect(found({ name: 'orla quill' })).toEqual(['C1 by exact_name', 'C4 by exact_name']))
})

it('counts slips of the pen, neighbours changed over as one, and stops at the bound', () => {
  expect([
    editDistance('fitch', 'fihtc', 2),
    editDistance('fitch', 'ftich', 2),
    editDistance('fitch', 'finch', 2),
    editDistance('fitch', 'fitches', 1),
    editDistance('', '', 0),
    editDistance('abcdef', 'uvwxyz', 2),
  ]).toEqual([2, 1, 1, 2, 0, 3])
  fc.assert(
    fc.property(fc.string({ maxLength: 8 }), fc.string({ maxLength: 8 }), (one, other) => {
      expect(editDistance(one, other, 9)).toBe(editDistance(other, one, 9))
      expect(editDistance(one, other, 9) === 0).toBe(one === other)
    }),
  )
})

describe('which invoice it pays', () => {
  const invoices = [
    invoice('KL-2026-17', 5000),
    invoice('KL-2026-1', 7500),
    invoice('KL-2026-18', 7500, { customer: 'C2' }),
    invoice('KL-2026-19', 7500, { customer: 'C2', date: '2025-01-01' }),
    invoice('KL-2026-20', 7500, { currency: 'USD' }),
  ]
  const found = (paid: Collection, who: string | null = null) =>
    findInvoices(paid, invoices, who).map(one => `${one.invoice.number} by ${one.by}`)
  it('is the one whose number is named as a whole word, else one of exactly the amount lately', () => {
    expect(found(collection(1, 'INV KL-2026-17, thank you'))).toEqual(['KL-2026-17 by reference'])
    expect(found(collection(7500))).toEqual(['KL-2026-1 by amount_date', 'KL-2026-18 by amount_date'])
    expect(found(collection(7500), 'C2')).toEqual(['KL-2026-18 by amount_date'])
    expect(found(collection(7499))).toEqual([])
  })
})

describe('what is done', () => {
  const c1 = { customer: customer('C1', 'Orla Quill'), by: 'email' as const }
  const c4 = { customer: customer('C4', 'Quill, Orla'), by: 'email' as const }
  const none = { customers: [], invoices: [], openOfCustomer: [] }
  it('is what the source’s table says for the evidence', () => {
    expect(decideAct(none, usualActs)).toEqual({ what: { act: 'leave' }, by: 'none', readiness: 'left', tied: false })
    expect(decideAct({ ...none, customers: [c1] }, usualActs)).toMatchObject({
      what: { act: 'receipt', customer: 'C1' },
      readiness: 'done',
    })
    expect(
      decideAct({ ...none, customers: [c1], openOfCustomer: ['A', 'B'] }, { ...usualActs, email: 'left' }),
    ).toMatchObject({
      what: { act: 'apply', invoices: ['A', 'B'] },
      readiness: 'left',
    })
    const byAmount = { invoice: invoice('B', 100), by: 'amount_date' as const }
    expect(
      decideAct({ customers: [c1], invoices: [byAmount], openOfCustomer: ['A', 'B'] }, usualActs).what,
    ).toMatchObject({ invoices: ['B'] })
    expect(decideAct({ ...none, invoices: [byAmount] }, usualActs)).toMatchObject({
      by: 'amount_date',
      readiness: 'proposed',
    })
  })
  it('is never done by itself between two of equal evidence', () => {
    const named = (number: string, who: string) => ({
      invoice: invoice(number, 100, { customer: who }),
      by: 'reference' as const,
    })
    expect(decideAct({ ...none, customers: [c1, c4] }, usualActs)).toMatchObject({ tied: true, readiness: 'proposed' })
    expect(decideAct({ ...none, invoices: [named('A', 'C1'), named('B', 'C2')] }, usualActs)).toMatchObject({
      tied: true,
      readiness: 'proposed',
    })
    expect(decideAct({ ...none, invoices: [named('A', 'C1'), named('B', 'C1')] }, usualActs)).toMatchObject({
      tied: false,
      readiness: 'done',
    })
  })
})

describe('a payment', () => {
  it('pays the oldest first, the last in part, and leaves what is over', () => {
    const open = [invoice('late', 8000, { due: '2026-04-30' }), invoice('early', 10_000)]
    expect(applyPayment(15_000, open)).toEqual({
      parts: [
        { number: 'early', amount: 10_000 },
        { number: 'late', amount: 5000 },
      ],
      over: 0,
    })
    expect(applyPayment(20_000, open).over).toBe(2000)
  })
  it('is split without a cent lost, and never beyond what is open', () => {
    fc.assert(
      fc.property(fc.nat(1e9), fc.array(fc.nat(1e8), { maxLength: 12 }), (amount, opens) => {
        const invoices = opens.map((open, index) => invoice(`I${index}`, open))
        const { parts, over } = applyPayment(amount, invoices)
        expect(parts.reduce((sum, part) => sum + part.amount, over)).toBe(amount)
        for (const part of parts) expect(part.amount).toBeLessThanOrEqual(opens[Number(part.number.slice(1))] as number)
        if (over > 0)
          expect(parts.reduce((sum, part) => sum + part.amount, 0)).toBe(opens.reduce((sum, open) => sum + open, 0))
      }),
    )
  })
  it('is given back never above what came in', () => {
    expect([refundable(5000, []), refundable(5000, [2000, 1000]), refundable(5000, [6000])]).toEqual([5000, 2000, 0])
    expect(() => applyPayment(-1, [])).toThrow(RangeError)
  })
})

describe('a draft of payments', () => {
  const decision = (act: 'apply' | 'receipt' | 'leave', readiness: 'done' | 'proposed' | 'left') => ({
    what:
      act === 'leave'
        ? ({ act } as const)
        : act === 'receipt'
          ? ({ act, customer: 'C1' } as const)
          : ({ act, customer: 'C1', invoices: ['I1'] } as const),
    by: 'email' as const,
    readiness,
    tied: false,
  })
  const rows = [
    { collection: 'a', currency: 'EUR', amount: 500, decision: decision('apply', 'done') },
    { collection: 'b', currency: 'EUR', amount: 700, decision: decision('apply', 'proposed') },
    { collection: 'c', currency: 'EUR', amount: 90, decision: decision('apply', 'done') },
    { collection: 'd', currency: 'USD', amount: 40, decision: decision('receipt', 'proposed') },
    { collection: 'e', currency: 'EUR', amount: 11, decision: decision('leave', 'left') },
  ]
  it('is added up by act, readiness and currency, and loses nothing', () => {
    expect(sumDraft(rows).map(sum => [sum.act, sum.readiness, sum.currency, sum.count, sum.amount])).toEqual([
      ['apply', 'done', 'EUR', 2, 590],
      ['apply', 'proposed', 'EUR', 1, 700],
      ['receipt', 'proposed', 'USD', 1, 40],
      ['leave', 'left', 'EUR', 1, 11],
    ])
    expect(sumDraft(rows).reduce((count, sum) => count + sum.count, 0)).toBe(rows.length)
  })
  it('records what the table does, and of what it proposes only what a person agreed to', () => {
    expect(recorded(rows, new Set(['d', 'e'])).map(row => row.collection)).toEqual(['a', 'c', 'd'])
  })
})

describe('refunds', () => {
  const receipt = (id: string, amount: number, ...givenBack: number[]) => ({ id, currency: 'EUR', amount, givenBack })
  const refund = (id: string, amount: number, of: string | null, more: object = {}) => ({
    id,
    gateway: 'brookpay',
    date: '2026-03-02',
    currency: 'EUR',
    amount,
    receipt: of,
    ...more,
  })
  it('of a day and gateway are one batch, each tied to its receipt', () => {
    const { batches, refused } = refundBatches(
      [
        refund('r1', 300, 'A'),
        refund('r2', 200, 'B'),
        refund('r3', 100, 'A', { date: '2026-03-03' }),
        refund('r4', 50, 'B', { gateway: 'oddpurse' }),
      ],
      [receipt('A', 400), receipt('B', 400)],
    )
    expect(refused).toEqual([])
    expect(batches.map(batch => [batch.date, batch.gateway, batch.sum, batch.disbursements.length])).toEqual([
      ['2026-03-02', 'brookpay', 500, 2],
      ['2026-03-02', 'oddpurse', 50, 1],
      ['2026-03-03', 'brookpay', 100, 1],
    ])
  })
  it('never go above what is left of their receipt, whatever else is refused', () => {
    const { batches, refused } = refundBatches(
      [
        refund('r1', 250, 'A'),
        refund('r2', 60, 'A'),
        refund('r3', 50, 'A'),
        refund('r4', 10, null),
        refund('r5', 10, 'A', { currency: 'USD' }),
      ],
      [receipt('A', 400, 100)],
    )
    expect(batches[0]?.disbursements.map(one => one.refund)).toEqual(['r1', 'r3'])
    expect(refused).toEqual([
      { refund: 'r2', fault: 'above_receipt', left: 50 },
      { refund: 'r4', fault: 'no_receipt', left: 0 },
      { refund: 'r5', fault: 'other_currency', left: 0 },
    ])
  })
  it('of any amounts leave no receipt below zero', () => {
    const some = fc.array(fc.tuple(fc.constantFrom('A', 'B', null), fc.integer({ min: 1, max: 500 })), {
      maxLength: 20,
    })
    fc.assert(
      fc.property(some, rows => {
        const refunds = rows.map(([of, amount], index) => refund(`r${index}`, amount, of))
        const { batches, refused } = refundBatches(refunds, [receipt('A', 700), receipt('B', 300, 120)])
        const sums = new Map<string, number>()
        for (const one of batches.flatMap(batch => batch.disbursements))
          sums.set(one.receipt, (sums.get(one.receipt) ?? 0) + one.amount)
        expect(sums.get('A') ?? 0).toBeLessThanOrEqual(700)
        expect(sums.get('B') ?? 0).toBeLessThanOrEqual(180)
        expect(batches.flatMap(batch => batch.disbursements).length + refused.length).toBe(rows.length)
      }),
    )
  })
})
