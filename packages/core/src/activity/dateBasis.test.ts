import { describe, expect, it } from 'vitest'
import { activityColumns, readActivityRow } from '../formats/activityRow.ts'
import { readColumns } from '../formats/columns.ts'
import { FaultList } from '../formats/fault.ts'
import type { DateBasis } from './dateBasis.ts'

const header = ['line_id', 'occurred_at', 'kind', 'currency', 'amount', 'status', 'paid_at', 'sent_at']
const read = (basis: DateBasis | undefined, paid: string, sent: string, status = '') => {
  const faults = new FaultList()
  const columns = readColumns(header, activityColumns, faults)
  const record = ['1', '2026-03-30T10:00:00+01:00', 'sale', 'EUR', '12.30', status, paid, sent]
  const line = readActivityRow(record, { columns, row: 2, faults, source: 'shop', ...(basis && { dateBasis: basis }) })
  return { line, faults: faults.shown }
}
const paid = '2026-03-31T23:30:00+01:00'
const sent = '2026-04-02T08:00:00+01:00'

describe('the instant that decides a line', () => {
  it.each([
    [undefined, paid, sent, '2026-03-30T10:00:00+01:00', 'available'],
    ['order', '', '', '2026-03-30T10:00:00+01:00', 'available'],
    ['payment', paid, '', paid, 'available'],
    ['payment', '', sent, null, 'pending'],
    ['dispatch', paid, sent, sent, 'available'],
    ['first', paid, sent, paid, 'available'],
    ['first', '', sent, sent, 'available'],
    ['first', '', '', null, 'pending'],
  ] as const)('by %s, paid “%s”, sent “%s”: %s, %s', (basis, paidAt, sentAt, decides, status) => {
    const { line, faults } = read(basis, paidAt, sentAt)
    expect(faults).toEqual([])
    expect(line?.status).toBe(status)
    // What the source said of the order itself stays as it was.
    expect(line?.occurredAt).toBe('2026-03-30T10:00:00+01:00')
    expect(line?.instant).toBe(Date.parse(decides ?? '2026-03-30T10:00:00+01:00'))
    expect(line?.countsAt ?? null).toBe(basis && basis !== 'order' ? decides : null)
  })

  it('is kept with the line, and named where it is no time', () => {
    expect(read('payment', paid, sent).line?.extra).toEqual({ paid_at: paid, sent_at: sent })
    expect(read('order', '31 March', sent).faults).toMatchObject([
      { column: 'paid_at', value: '31 March', code: 'not_a_time' },
    ])
  })

  it('leaves what failed as failed', () => {
    expect(read('payment', '', '', 'failed').line?.status).toBe('failed')
  })
})
