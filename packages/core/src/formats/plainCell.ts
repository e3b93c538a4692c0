/** A text as a cell that no spreadsheet runs as a formula: one that begins like one gets an apostrophe before it. For words, not for amounts. */
export const plainCell = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)
