import { createReadStream } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { finished } from 'node:stream/promises'
import { parse } from 'csv-parse'
import pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'

const columns = `client_id, source, line_id, revision, pull_no, settlement_id, settlement_key, currency, occurred_at, occurred_text,
  local_date, kind, order_id, category, region, amount, status, content_hash`

/** A record of the made file as a row of the final table, as cheaply as it can be made. */
const rowOf = ([lineId, settlement, at, kind, order, category, region, currency, amount]: readonly string[]): string =>
  `1\topenhall\t${lineId}\t1\t1\t${settlement}\t${settlement}\t${currency}\t${at}\t${at}\t${at?.slice(0, 10)}\t${kind}\t${order}\t${category}\t${region}\t${Math.round(Number(amount) * 100)}\tavailable\t4503599627370495\n`

const records = (path: string): AsyncIterable<string[]> => createReadStream(path).pipe(parse({ from_line: 2 }))

/**
 * What an import cannot be quicker than, in milliseconds: csv-parse to arrays of the file alone, and COPY of the same rows
 * into a copy of the final table with its indexes. Making the rows for COPY is not counted.
 */
export const importBase = async (url: string, path: string): Promise<{ parsing: number; copying: number }> => {
  const began = performance.now()
  let count = 0
  for await (const _ of records(path)) count++
  const parsing = performance.now() - began
  const blocks: Buffer[] = []
  let rows: string[] = []
  for await (const record of records(path)) {
    rows.push(rowOf(record))
    if (rows.length === 2000) blocks.push(Buffer.from(rows.splice(0).join('')))
  }
  blocks.push(Buffer.from(rows.join('')))
  rows = []
  const admin = new pg.Client({ connectionString: url })
  await admin.connect()
  try {
    await admin.query('DROP TABLE IF EXISTS bench_line; CREATE TABLE bench_line (LIKE activity_line INCLUDING ALL)')
    const start = performance.now()
    const stream = admin.query(copyFrom(`COPY bench_line (${columns}) FROM STDIN`))
    for (const block of blocks)
      if (!stream.write(block)) await new Promise<void>(resolve => stream.once('drain', () => resolve()))
    stream.end()
    await finished(stream)
    const copying = performance.now() - start
    const stored = await admin.query<{ count: number }>('SELECT count(*)::int AS count FROM bench_line')
    if (stored.rows[0]?.count !== count) throw new Error('the base stored other rows than it read')
    await admin.query('DROP TABLE bench_line')
    return { parsing, copying }
  } finally {
    await admin.end()
  }
}
