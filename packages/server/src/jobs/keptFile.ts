import { Readable } from 'node:stream'
import { createGunzip, createGzip } from 'node:zlib'
import { sql } from 'drizzle-orm'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

// A file that a job is to read waits for it in the database: whichever process takes the job up finds it there.

const partBytes = 1_000_000

const parts = async function* (body: Readable): AsyncGenerator<Buffer> {
  let held: Buffer[] = []
  let bytes = 0
  for await (const chunk of body as AsyncIterable<Buffer>) {
    held.push(chunk)
    bytes += chunk.length
    if (bytes < partBytes) continue
    yield Buffer.concat(held)
    held = []
    bytes = 0
  }
  if (bytes > 0) yield Buffer.concat(held)
}

/** Keeps a file for a job, compressed. */
export const keepFile = async (tx: Transaction, jobId: string, body: Readable): Promise<void> => {
  let part = 0
  const packed = createGzip({ level: 1 })
  body.on('error', error => packed.destroy(error))
  for await (const bytes of parts(body.pipe(packed)))
    await tx.execute(
      sql`INSERT INTO received_part (client_id, job_id, part, bytes) VALUES (current_client(), ${jobId}, ${part++}, ${bytes})`,
    )
}

/** The file that is kept for a job, as it came; each part is read in a transaction of its own. */
export const readKept = (database: Database, actor: Actor, jobId: string): Readable => {
  const stored = async function* () {
    for (let part = 0; ; part++) {
      const [row] = await asClient(database, actor, tx =>
        rowsOf(
          tx,
          { bytes: is.bytes },
          sql`SELECT bytes FROM received_part WHERE client_id = current_client() AND job_id = ${jobId} AND part = ${part}`,
        ),
      )
      if (!row) return
      yield row.bytes
    }
  }
  const packed = Readable.from(stored(), { objectMode: false, highWaterMark: partBytes })
  const body = createGunzip()
  packed.on('error', error => body.destroy(error))
  return packed.pipe(body)
}
