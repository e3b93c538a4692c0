import { setTimeout as pause } from 'node:timers/promises'
import type { Database } from './connect.ts'
import { sqlState } from './sqlState.ts'

/** Codes of sockets, and classes of SQL states, that mean: the database is not there, not that it refused. */
const socketCodes = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT', 'ENOTFOUND', 'EHOSTUNREACH'])
const goneStates = /^(08|57P0[1-5]|53300|55000$)/
const goneWords = /Connection terminated|timeout expired|Client has encountered a connection error|not queryable/

/** Whether an error says that the database cannot be reached, or has just gone: what was asked may be asked again once it is back. */
export const isUnreachable = (error: unknown): boolean => {
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    const code = (cause as { code?: unknown }).code
    if (typeof code === 'string' && socketCodes.has(code)) return true
    if (goneWords.test(cause.message)) return true
  }
  return goneStates.test(sqlState(error) ?? '')
}

const longestPauseMs = 5000

/** Waits until the database answers again, or `isOver`. */
export const untilReachable = async (database: Database, isOver: () => boolean): Promise<void> => {
  for (let waitMs = 200; !isOver(); waitMs = Math.min(longestPauseMs, waitMs * 2)) {
    await pause(waitMs)
    const answered = await database.$client.query('SELECT 1').then(
      () => true,
      () => false,
    )
    if (answered) return
  }
}
