/** The SQLSTATE of an error or of what caused it; null where there is none. */
export const sqlState = (error: unknown): string | null => {
  if (!(error instanceof Error)) return null
  if ('code' in error && typeof error.code === 'string' && /^[0-9A-Z]{5}$/.test(error.code)) return error.code
  return sqlState(error.cause)
}
