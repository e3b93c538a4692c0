/** A record longer than this is a fault: 1 MB. */
export const maxRecordBytes = 1_000_000

/** What somebody has said of a file that does not say it itself. */
export interface TableTold {
  /** Name of the encoding of a file without a mark; null: it is held to be UTF-8, and refused where it is not. */
  readonly encoding?: string | null
  /** Name of the sheet of a workbook; null: its first. */
  readonly sheet?: string | null
}

export interface TableReader {
  /** May say that no more is wanted than this. */
  header(columns: readonly string[]): void
  /** `row` counts from 1, the header. A promise is waited for before the next row is read. */
  row(fields: readonly string[], row: number): void | Promise<void>
}
