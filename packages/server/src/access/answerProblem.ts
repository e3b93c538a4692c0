import type { Problem } from '@culvert/contract'
import { expectedText, type RouteFault } from '@culvert/core'
import type { NextFunction, Request, Response } from 'express'
import { z } from 'zod'
import { RoutesRefused } from '../mapping/saveRoutes.ts'
import { FileRefused } from '../sources/fileRefused.ts'
import { Refused } from './refused.ts'

const routeFaultText = (fault: RouteFault): string => {
  switch (fault.code) {
    case 'alike':
      return `routes ${fault.other} and ${fault.route} serve the same lines from the same date; change or remove one`
    case 'unknown_account':
      return `account ${fault.account} does not exist or is archived`
    case 'no_account':
      return 'a route needs an account'
    case 'unknown_tax_code':
      return `tax code ${fault.taxCode} does not exist`
    case 'unknown_item':
      return `item ${fault.item} does not exist`
  }
}

const sqlState = (error: unknown): string | null => {
  if (!(error instanceof Error)) return null
  if ('code' in error && typeof error.code === 'string' && /^[0-9A-Z]{5}$/.test(error.code)) return error.code
  return sqlState(error.cause)
}

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
        })),
        count: error.count,
      },
    }
  if (error instanceof RoutesRefused)
    return { status: 422, body: { error: error.faults.map(routeFaultText).join('; ') } }
  if (error instanceof Refused) return { status: error.status, body: { error: error.message } }
  if (error instanceof z.ZodError) return { status: 400, body: { error: z.prettifyError(error) } }
  if (error instanceof RangeError) return { status: 400, body: { error: error.message } }
  if (sqlState(error) === '23505') return { status: 409, body: { error: 'This exists already.' } }
  if (sqlState(error) === '23503')
    return { status: 409, body: { error: 'It refers to something that does not exist.' } }
  if (error instanceof Error && 'status' in error && typeof error.status === 'number' && error.status < 500)
    return { status: error.status, body: { error: error.message } }
  return {
    status: 500,
    body: { error: 'Something went wrong on the server; nothing was changed. The server’s log says more.' },
  }
}

/** Makes an answer of whatever a request ran into. */
export const answerProblem = (error: unknown, request: Request, response: Response, _next: NextFunction): void => {
  const { status, body } = answerFor(error)
  if (status >= 500) request.log?.error(error)
  if (response.headersSent) response.destroy()
  else response.status(status).json(body)
}
