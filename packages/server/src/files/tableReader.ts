import { z } from 'zod'

/** A record longer than this is a fault: 1 MB. */
export const maxRecordBytes = 1_000_000

/**
 * What somebody has said of a file that does not say it itself: the encoding of one without a mark (null: it is held to be UTF-8, and refused where it is not), the
 * sheet of a workbook (null: its first), and rows that are left out since they cannot be read.
 */
export const tableTold = z.object({
  encoding: z.string().nullish(),
  sheet: z.string().nullish(),
  aside: z.string().nullish(),
})
export type TableTold = z.infer<typeof tableTold>

export interface TableReader {
  /** A promise is waited for before the first row is read. */
  header(columns: readonly string[]): void | Promise<void>
  /** `row` counts from 1, the header. A promise is waited for before the next row is read. */
  row(fields: readonly string[], row: number): void | Promise<void>
}
