import { createReadStream } from 'node:fs'
import { finished } from 'node:stream/promises'
import { parse } from 'csv-parse'
import pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'

/**
 * What an import cannot be quicker than: csv-parse to arrays of the file alone, and COPY of rows as wide into a copy of
 * the final table with its indexes.
 */
export const importBase = async (url: string, path: string): Promise<void> => {
  const records: string[][] = []
  for await (const record of createReadStream(path).pipe(parse({ from_line: 2 })) as AsyncIterable<string[]>)
    records.push(record)
  const admin = new pg.Client({ connectionString: url })
  await admin.connect()
  try {
    await admin.query('DROP TABLE IF EXISTS bench_line; CREATE TABLE bench_line (LIKE activity_line INCLUDING ALL)')
    const stream = admin.query(
      copyFrom(`COPY bench_line (client_id, source, line_id, revision, pull_no, settlement_id, settlement_key,
      currency, occurred_at, occurred_text, local_date, kind, order_id, amount, status, content_hash) FROM STDIN`),
    )
    let chunk: string[] = []
    for (const [lineId, settlement, at, kind, order, currency, amount] of records) {
      chunk.push(
        [
          1,
          'openhall',
          lineId,
          1,
          1,
          settlement,
          settlement,
          currency,
          at,
          at,
          at?.slice(0, 10),
          kind,
          order,
          Math.round(Number(amount) * 100),
          'available',
          4503599627370495,
        ].join('\t'),
      )
      if (chunk.length === 2000) {
        if (!stream.write(`${chunk.join('\n')}\n`)) await new Promise(resolve => stream.once('drain', resolve))
        chunk = []
      }
    }
    stream.end(chunk.length > 0 ? `${chunk.join('\n')}\n` : '')
    await finished(stream)
    await admin.query('DROP TABLE bench_line')
  } finally {
    await admin.end()
  }
}
