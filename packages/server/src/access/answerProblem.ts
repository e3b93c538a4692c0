import type { Problem } from '@culvert/contract'
import { expectedText, MinorOutOfRange } from '@culvert/core'
import type { NextFunction, Request, Response } from 'express'
import { z } from 'zod'
import { SumOutOfRange } from '../database/connect.ts'
import { isUnreachable } from '../database/reachable.ts'
import { sqlState } from '../database/sqlState.ts'
import { briefly } from './briefly.ts'
import { FileRefused } from './fileRefused.ts'
import { mapFaultText } from './mapFaultText.ts'
import { MapRefused } from './mapRefused.ts'
import { Conflict, Question, Refused } from './refused.ts'

// For a program the code and its figures; for a person the words.
const saidBy = ({ message, code, figures }: Refused) => ({ error: message, code, figures })

const answerFor = (error: unknown): { status: number; body: Problem } => {
  if (error instanceof FileRefused)
    return {
      status: 422,
      body: {
        error: `The file was not taken in: ${error.count} ${error.count === 1 ? 'fault' : 'faults'}. Nothing was changed.`,
        faults: error.faults.map(fault => ({
          row: fault.row,
          column: fault.column,
          value: fault.value,
          expected: expectedText(fault),
          code: fault.code,
          ...(fault.currency && { currency: fault.currency }),
        })),
        count: error.count,
      },
    }
  if (error instanceof MapRefused) return { status: 422, body: { error: mapFaultText(error.found) } }
  if (error instanceof Question) return { status: error.status, body: { ...saidBy(error), ask: error.code } }
  if (error instanceof Conflict) return { status: error.status, body: { ...saidBy(error), conflict: true } }
  if (error instanceof Refused) return { status: error.status, body: saidBy(error) }
  if (error instanceof z.ZodError) return { status: 400, body: { error: z.prettifyError(error) } }
  if (isUnreachable(error))
    return {
      status: 503,
      body: { error: 'The database does not answer just now. Nothing is lost; try again in a moment.' },
    }
  const named = namedFault(error)
  if (named) return { status: 400, body: { error: named } }
  if (error instanceof SumOutOfRange || error instanceof MinorOutOfRange)
    return {
      status: 422,
      body: { error: 'Amounts would add up to more than 9 × 10^15 minor units. Nothing was changed.' },
    }
  // The database holds rights too: what slipped past the program is refused there, and whole.
  if (sqlState(error) === '42501')
    return { status: 403, body: { error: 'This is not for you to do. Nothing was changed.', code: 'may_not' } }
  if (sqlState(error) === '23505') return { status: 409, body: { error: 'This exists already.' } }
  if (sqlState(error) === '23503')
    return { status: 409, body: { error: 'It refers to something that does not exist.' } }
  if (error instanceof Error && 'status' in error && typeof error.status === 'number' && error.status < 500)
    return { status: error.status, body: { error: error.message } }
  return {
    status: 500,
    body: {
      error:
        'Something went wrong on the server. What was asked for may be done in part: look again before you repeat it. The server’s log says more.',
    },
  }
}

/** Values that no column can hold, by what the database says of them: they were asked for, and are no fault of the server. */
const badValues: Readonly<Record<string, string>> = {
  '22P02': 'A value has a form that cannot be.',
  '22P05': 'A text holds a sign that cannot be stored.',
  '22021': 'A text holds a sign that cannot be stored.',
  '22003': 'A number is beyond what can be stored.',
  '22007': 'A date has a form that cannot be.',
  '22008': 'A date does not exist.',
  '54000': 'A text is too long.',
}
const namedFault = (error: unknown): string | null => {
  const said = badValues[sqlState(error) ?? '']
  return said === undefined ? null : `${said} Nothing was changed.`
}

/** What somebody who asked for it is told of an error: the same for a request and for a job. */
export const problemOf = (error: unknown): Problem => answerFor(error).body

/** Whether an error is what was asked for, and no fault of the server. */
export const isRefusal = (error: unknown): boolean => answerFor(error).status < 500

/** Makes an answer of whatever a request ran into. */
export const answerProblem = (error: unknown, request: Request, response: Response, _next: NextFunction): void => {
  const { status, body } = answerFor(error)
  if (status >= 500) request.log?.error({ error: briefly(error) })
  if (response.headersSent) response.destroy()
  else response.status(status).json(body)
}
