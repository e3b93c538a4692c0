import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { Waiting } from '../course/stages.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'

/** Kinds and categories that no route or tax code takes, and their money. */
export const countWaiting = async (tx: Transaction): Promise<Waiting> => {
  const inBase = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { kind: is.text, category: is.maybe(is.text), currency: is.text, amount: is.minor },
    sql`
    SELECT c->>'kind' AS kind, c->>'category' AS category, s.currency, sum(abs((c->>'amount')::bigint))::bigint AS amount
    FROM settlement s, jsonb_array_elements(s.blocks) b, jsonb_array_elements(b->'concerned') c
    WHERE s.client_id = current_client() AND s.state = 'blocked' AND b->>'reason' IN ('unmapped', 'tax_code_missing')
      -- A collection that a shop's order should explain waits for the shop's report, not for a route.
      AND NOT (${kindIs('collection', "c->>'kind'")} AND EXISTS (SELECT FROM tender_label t
        LEFT JOIN gateway_label g ON g.client_id = t.client_id AND g.label = t.label
        WHERE t.client_id = s.client_id AND t.channel <> s.source AND coalesce(g.source, t.label) = s.source))
    GROUP BY 1, 2, 3`,
  )
  const kinds = new Set(rows.map(row => JSON.stringify([row.kind, row.category])))
  return { waiting: kinds.size, amount: sumMinor(rows, row => inBase.convert(row.amount, row.currency)), note: '' }
}
