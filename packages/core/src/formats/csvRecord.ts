/** One CSV record with LF; quotes only round fields that hold a comma, quote or newline, quotes doubled. */
export const csvRecord = (fields: readonly string[]): string =>
  `${fields.map(field => (/[",\n\r]/.test(field) ? `"${field.replaceAll('"', '""')}"` : field)).join(',')}\n`
