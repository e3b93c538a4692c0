import {
  type ActRow,
  bankEndpoints as bank,
  bookEndpoints as books,
  closeEndpoints as close,
  jobIn,
  partsOfKey,
  paymentEndpoints as payments,
  type Right,
  settlementEndpoints as settlements,
} from '@culvert/contract'
import { call } from '../context/request.ts'

/** How acts of a sort are taken back: who may, of what, and by asking what. */
interface WayBack {
  readonly right: Right
  /** What it is called, of so many. */
  readonly what: (count: number) => string
  readonly subject: string
  /** What was done, in a sentence. */
  readonly run: (clientId: number, keys: readonly string[]) => Promise<string>
}

const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`

const settlementKeys = (keys: readonly string[]) =>
  keys.map(key => {
    const [source = '', name = '', currency = ''] = partsOfKey(key)
    return { source, key: name, currency }
  })

const byPairing: WayBack = {
  right: 'pair',
  what: count => counted(count, 'pairing'),
  subject: 'pairing',
  run: async (client, keys) => {
    const { changed } = await call(bank.undoPairings, { client, body: { pairings: [...keys] } })
    return changed === 0 ? 'Nothing of it stood any more.' : `${counted(changed, 'pairing')} taken apart.`
  },
}

const waysBack: Readonly<Record<string, WayBack>> = {
  post: {
    right: 'post',
    what: count => counted(count, 'settlement'),
    subject: 'settlement',
    run: async (client, keys) => {
      const outcome = await call(settlements.takeBack, { client, body: { keys: settlementKeys(keys) } })
      if (jobIn(outcome) !== null || !('takenBack' in outcome)) return 'They are taken back as a job.'
      const left = outcome.refused.length > 0 ? ` ${outcome.refused.length} could not be, or were already.` : ''
      return `${counted(outcome.takenBack.length, 'settlement')} taken back.${left}`
    },
  },
  set_aside: {
    right: 'settle',
    what: count => counted(count, 'settlement'),
    subject: 'settlement',
    run: async (client, keys) => {
      const { changed } = await call(settlements.takeUp, { client, body: { keys: settlementKeys(keys) } })
      return `${counted(changed, 'settlement')} taken up again.`
    },
  },
  confirm_pairings: byPairing,
  code_line: byPairing,
  set_aside_bank: byPairing,
  decide_payments: {
    right: 'post',
    what: count => counted(count, 'payment'),
    subject: 'payment',
    run: async (client, keys) => {
      const of = keys.map(key => {
        const [source = '', lineId = ''] = partsOfKey(key)
        return { source, lineId }
      })
      const { undone } = await call(payments.undoPayments, { client, body: { of } })
      return `${counted(undone, 'decision')} taken back.`
    },
  },
  decide_dispute: {
    right: 'post',
    what: () => 'the decision',
    subject: 'payment',
    run: async (client, keys) => {
      const [source = '', lineId = ''] = partsOfKey(keys[0] ?? '')
      await call(payments.undoDispute, { client, body: { source, lineId } })
      return 'The decision is taken back.'
    },
  },
  post_opening: {
    right: 'post',
    what: () => 'the opening balances',
    subject: 'entry',
    run: async client => {
      await call(books.undoOpening, { client })
      return 'The opening balances are taken back.'
    },
  },
  lock_period: {
    right: 'close',
    what: () => 'the lock',
    subject: 'month',
    run: async (client, keys) => {
      await call(close.setLocked, { client, body: { month: keys[0] ?? '', locked: false } })
      return 'The month is open again.'
    },
  },
}

/** How acts of a sort are taken back; null where they are not, or not from here. */
export const wayBackOf = (sort: string): WayBack | null => waysBack[sort] ?? null

/** What of some acts of one sort is taken back: each object once, however many acts touched it. */
export const keysToTakeBack = (acts: readonly ActRow[]): string[] => {
  const subject = wayBackOf(acts[0]?.sort ?? '')?.subject
  return [...new Set(acts.flatMap(act => act.objects.filter(one => one.subject === subject).map(one => one.key)))]
}
