import { subjectKey } from '@culvert/contract'
import { containsWords } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'

export interface SourceWordings {
  readonly source: string
  readonly name: string
  readonly wordings: string[]
}

/** The words by which the bank names each source that pays into an account. */
export const loadWordings = (tx: Transaction): Promise<SourceWordings[]> =>
  rowsOf(
    tx,
    { source: is.text, name: is.text, wordings: is.list(is.text) },
    sql`SELECT source, name, bank_texts AS wordings FROM source s WHERE client_id = current_client()
      AND EXISTS (SELECT FROM source_bank b WHERE b.client_id = s.client_id AND b.source = s.source) ORDER BY name`,
  )

/**
 * Confirms that the bank names a source by these words, or forgets it. From then on they make pairings of that source certain, so that
 * words that name another source already are refused. @throws Refused
 */
export const saveWording = (
  database: Database,
  actor: Actor,
  { source, wording, known }: { source: string; wording: string; known: boolean },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      // Held before they are read: two words learned at once are both kept.
      await tx.execute(
        sql`SELECT FROM source WHERE client_id = current_client() ORDER BY source COLLATE "C" FOR NO KEY UPDATE`,
      )
      const all = await loadWordings(tx)
      const mine = all.find(one => one.source === source)
      if (!mine) throw new Refused('not_found', { what: 'source' })
      const other = all.find(
        one =>
          one.source !== source &&
          // One that is part of a longer one is no matter: the longest names the payer.
          [one.source, ...one.wordings].some(words => containsWords(words, wording) && containsWords(wording, words)),
      )
      if (known && other) throw new Refused('names_another', { wording, source: other.name })
      const rest = mine.wordings.filter(words => words.toLowerCase() !== wording.toLowerCase())
      const wordings = known ? [...rest, wording] : rest
      await tx.execute(sql`UPDATE source SET bank_texts = ${JSON.stringify(wordings)}::jsonb
      WHERE client_id = current_client() AND source = ${source}`)
      await recordAct(tx, actor, {
        sort: 'save_wording',
        note: `${known ? '' : 'not '}${wording}: ${mine.name}`,
        touched: [
          {
            subject: 'source',
            key: subjectKey(source),
            before: { wordings: mine.wordings.join(' | ') },
            after: { wordings: wordings.join(' | ') },
          },
        ],
      })
    }),
  )
