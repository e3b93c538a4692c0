import { sqlState } from '../database/sqlState.ts'

/** The most of an error that goes to the log: its place matters, not what somebody sent. */
const mostMessage = 300
const mostStack = 1500

// What follows in a driver's message are the statement's text and its values: amounts, names, secrets.
const withoutValues = (message: string): string =>
  message.replace(/^(Failed query:)[\s\S]*$/, '$1 (left out)').replace(/\nparams:[\s\S]*$/, '')

/**
 * An error as the log keeps it: its name, code, bounded message and where it was thrown, and the same of its causes; never a statement's text or
 * parameters, nor a body, which hold personal data and secrets.
 */
export const briefly = (error: unknown): unknown => {
  if (!(error instanceof Error)) return { thrown: typeof error }
  const message = withoutValues(error.message).slice(0, mostMessage)
  const stack = (error.stack ?? '')
    .split('\n')
    .filter(line => /^\s+at /.test(line))
    .join('\n')
    .slice(0, mostStack)
  return {
    name: error.name,
    message,
    code: sqlState(error) ?? (error as { code?: unknown }).code,
    stack,
    ...(error.cause instanceof Error && error.cause !== error && { cause: briefly(error.cause) }),
  }
}
