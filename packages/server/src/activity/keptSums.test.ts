import { isCollection, isPayout, isStock, isTender, kindNames } from '@culvert/core'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveLabels } from '../payments/saveLabels.ts'
import { takeImportBack } from '../sources/takeImportBack.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import { addShop, csvOf, makeClient, type Row, testDatabase, upload } from '../testing/madeClient.ts'
import { isAnswer } from '../testing/writers.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

describe('what is kept of the activity', () => {
  it('tells kinds apart as the core does', async () => {
    const actor = await makeClient(database, 'Kinds')
    const rows = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { kind: is.kind, alone: is.text, matched: is.text, tie: is.yes },
        sql`SELECT kind, sum_part(kind, false) AS alone, sum_part(kind, true) AS matched, kind_is_tie(kind) AS tie
          FROM unnest(${sql.param(kindNames)}::text[]) kind`,
      ),
    )
    expect(rows).toHaveLength(kindNames.length)
    for (const { kind, alone, matched, tie } of rows) {
      const part = isPayout(kind) ? 'payout' : isStock(kind) ? 'stock' : isTender(kind) ? 'tender' : 'other'
      expect({ kind, alone, matched, tie }).toEqual({
        kind,
        alone: part,
        matched: isCollection(kind) ? 'matched' : part,
        tie: isTender(kind) || isCollection(kind),
      })
    }
  })

  const told = (source: 'fernstall' | 'brookpay') =>
    fc.record({
      line_id: fc.constantFrom('a', 'b', 'c', 'd', 'e').map(id => `${source}-${id}`),
      order_id: fc.constantFrom('', 'F-1', 'F-2', 'F-3'),
      occurred_at: fc.constantFrom('2026-03-02T10:00:00Z', '2026-03-03T10:00:00Z', '2026-03-09T10:00:00Z'),
      kind:
        source === 'fernstall'
          ? fc.constantFrom('sale', 'tender', 'tender', 'tender_returned', 'stock_received', 'payout')
          : fc.constantFrom('collected', 'collected', 'collected_back', 'processing_fee', 'payout'),
      gateway: fc.constantFrom('', 'brookpay', 'card'),
      amount: fc.constantFrom('24.60', '-24.60', '10.00', '-10.00', '0.00'),
      status: fc.constantFrom('available', 'available', 'pending', 'failed'),
    })
  const step = fc.oneof(
    fc.record({ of: fc.constant('fernstall' as const), rows: fc.array(told('fernstall'), { maxLength: 6 }) }),
    fc.record({ of: fc.constant('brookpay' as const), rows: fc.array(told('brookpay'), { maxLength: 6 }) }),
    fc.record({ of: fc.constant('labels' as const), card: fc.boolean() }),
    fc.record({ of: fc.constant('back' as const), file: fc.nat(6) }),
  )
  // Any file, not the last only; one on which something rests is refused.
  const backFile = async (actor: Actor, place: number): Promise<void> => {
    const files = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { source: is.text, jobId: is.text },
        sql`SELECT subject AS source, job_id AS "jobId" FROM job WHERE sort = 'upload' AND taken_back_at IS NULL ORDER BY ordinal DESC`,
      ),
    )
    const file = files[place % Math.max(files.length, 1)]
    if (!file) return
    await takeImportBack(database, actor, file).catch(error => {
      if (!isAnswer(error)) throw error
    })
  }
  it('is what the lines come to, up to every pull, whatever is revised, matched, parted and taken back', async () => {
    let tried = 0
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 2, maxLength: 7 }), async steps => {
        const actor = await makeClient(database, `Kept ${tried++}`)
        await addShop(database, actor)
        for (const one of steps) {
          if (one.of === 'labels') {
            await saveLabels(database, actor, one.card ? [{ label: 'card', source: 'brookpay' }] : [])
            continue
          }
          if (one.of === 'back') {
            await backFile(actor, one.file)
            continue
          }
          const once = new Map<string, Row>(
            one.rows.map(row => {
              const sign = row.kind === 'tender' || row.kind === 'processing_fee' || row.kind === 'payout' ? '-' : ''
              return [row.line_id, { ...row, currency: 'EUR', amount: `${sign}${row.amount.replace('-', '')}` }]
            }),
          )
          if (once.size > 0) await upload(database, actor, csvOf([...once.values()]), 'activity.csv', one.of)
        }
        expect(await brokenInvariants(database, actor)).toEqual([])
      }),
      { numRuns: 25 },
    )
  })
})
