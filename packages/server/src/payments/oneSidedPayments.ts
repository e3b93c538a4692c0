import { decidedLine, type MayWriteOff, type OneSidedItem, type UnknownLabel } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { compareSides } from './compareSides.ts'
import { loadStanding, type StandingDecision, textOfPayment } from './paymentDecisions.ts'
import { loadToday } from './today.ts'

/** What stands decided, and whether it is still so. */
export interface Decided {
  readonly standing: StandingDecision
  readonly holds: boolean
}

/** Payments that only one side knows of, as far as nobody has decided them, and what was decided of others. */
export interface OneSidedPayments {
  readonly items: readonly OneSidedItem[]
  readonly decided: readonly Decided[]
  readonly labels: readonly UnknownLabel[]
  readonly elsewhere: readonly { readonly currency: string; readonly amount: number }[]
  readonly today: string
  /** In base; null: nothing may be written off. */
  readonly writeOffUpTo: number | null
  readonly mayWriteOff: MayWriteOff
}

export const loadOneSided = async (tx: Transaction, client: ClientSetup): Promise<OneSidedPayments> => {
  const today = await loadToday(tx)
  const { items, labels, elsewhere } = await compareSides(tx, client)
  const byLine = new Map(items.map(item => [textOfPayment(decidedLine(item)), item]))
  const decided = (await loadStanding(tx)).map(standing => ({
    standing,
    holds: isSo(standing, byLine.get(textOfPayment(standing))),
  }))
  // One that has waited long enough is open again; what does not hold any more is listed as what was decided, to be taken back.
  const settled = new Set(
    decided.filter(({ standing }) => !isOver(standing, today)).map(({ standing }) => textOfPayment(standing)),
  )
  const { limit } = await oneRow(
    tx,
    { limit: is.maybe(is.minor) },
    sql`SELECT write_off_up_to AS limit FROM client WHERE client_id = current_client()`,
  )
  const inBase = await loadInBase(tx)
  return {
    items: items.filter(item => !settled.has(textOfPayment(decidedLine(item)))),
    decided: decided.filter(({ standing }) => !isOver(standing, today)),
    labels,
    elsewhere,
    today,
    writeOffUpTo: limit,
    // Without a rate nobody knows whether it is little.
    mayWriteOff: (amount, currency) => {
      const worth = inBase.convert(Math.abs(amount), currency)
      return limit !== null && worth > 0 && worth <= limit
    },
  }
}

const isOver = ({ decision, until }: StandingDecision, today: string): boolean =>
  decision === 'waits' && until !== null && until < today

const isSo = (standing: StandingDecision, item: OneSidedItem | undefined): boolean =>
  standing.decision === 'attached' ? standing.tied : item !== undefined && item.amount === standing.amount
