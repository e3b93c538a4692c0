import type { Trace, TraceStart } from '@culvert/contract'
import type { Transaction } from '../database/connect.ts'
import { traceBankEntry } from './traceBank.ts'
import { traceDecision } from './traceDecision.ts'
import { traceOrder } from './traceOrder.ts'
import { traceReported } from './traceReported.ts'
import { findStart } from './traceStart.ts'
import { stepsOf } from './traceSteps.ts'
import { sumOfAccount, sumOfBank, sumOfChart, sumOfKind, sumOfProduct } from './traceSums.ts'

/**
 * What an amount is made of: the path of its lines from order to bank line, from wherever one stands on it, or of a sum
 * over many settlements its heaviest parts, each with a path of its own. An order that is in several settlements is shown with all of them. Null if there is no such place.
 */
export const loadTrace = async (tx: Transaction, start: TraceStart): Promise<Trace | null> => {
  if (start.at === 'account') return sumOfAccount(tx, start)
  if (start.at === 'kind') return sumOfKind(tx, start)
  if (start.at === 'product') return sumOfProduct(tx, start)
  if (start.at === 'bank') return sumOfBank(tx, start)
  if (start.at === 'chart') return sumOfChart(tx, start)
  if (start.at === 'reported') return traceReported(tx, start)
  const order = start.at === 'order' ? await traceOrder(tx, start.order) : null
  if (order) return order
  const found = await findStart(tx, start)
  return found ? stepsOf(tx, found, start.named) : ((await traceDecision(tx, start)) ?? traceBankEntry(tx, start))
}
