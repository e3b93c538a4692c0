import { sql } from 'drizzle-orm'
import { checkSeals } from '../acts/checkSeals.ts'
import { countStaleIn } from '../course/countStale.ts'
import { markStages } from '../course/markStages.ts'
import { stages } from '../course/stages.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { counters } from '../stages.ts'

/** What must hold of a client's books whatever ran at the same time; each names rows that break it. */
const broken = {
  'an entry that does not balance': sql`
    SELECT e.fiscal_year || '-' || e.number AS what FROM entry e LEFT JOIN entry_line l USING (client_id, fiscal_year, number)
    WHERE e.client_id = current_client() GROUP BY e.fiscal_year, e.number, e.line_count
    HAVING coalesce(sum(l.amount), 0) <> 0 OR coalesce(sum(l.base_amount), 0) <> 0 OR count(l.line_no) <> e.line_count`,
  'a number that is missing, or a counter that is off': sql`
    SELECT c.fiscal_year || ': next ' || c.next AS what FROM number_counter c
    CROSS JOIN LATERAL (SELECT count(*)::int AS entries, coalesce(max(e.number), 0) AS highest FROM entry e
      WHERE e.client_id = c.client_id AND e.fiscal_year = c.fiscal_year) e
    WHERE c.client_id = current_client() AND (c.next - 1 <> e.entries OR c.next - 1 <> e.highest)`,
  'a total that is not the sum of its lines': sql`
    SELECT account || ' ' || day AS what FROM (
      SELECT account, tax_code, segments, currency, day, debit - credit AS amount, base_debit - base_credit AS base FROM account_total
      WHERE client_id = current_client()
      UNION ALL SELECT account, tax_code, segments, currency, date, -amount, -base_amount FROM entry_line WHERE client_id = current_client()) t
    GROUP BY account, tax_code, segments, currency, day HAVING sum(amount) <> 0 OR sum(base) <> 0`,
  'an entry of a source that is dated before its first day here': sql`
    SELECT e.source || ' ' || e.key || ' ' || e.date AS what FROM entry e JOIN source f USING (client_id, source)
    WHERE e.client_id = current_client() AND e.document IN ('journal', 'transfer') AND e.reverses_number IS NULL
      AND e.date < (f.options->>'bookedFrom')::date
      AND NOT EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year AND r.reverses_number = e.number)`,
  'a settlement whose state is not that of its postings': sql`
    SELECT s.source || ' ' || s.key || ' ' || s.state AS what FROM settlement s WHERE s.client_id = current_client()
      AND (s.state = 'posted') IS DISTINCT FROM EXISTS (SELECT FROM posting p WHERE p.client_id = s.client_id AND p.source = s.source AND p.key = s.key
        AND p.currency = s.currency AND p.generation = s.generation AND NOT EXISTS (SELECT FROM reversal r WHERE r.client_id = p.client_id
          AND r.source = p.source AND r.key = p.key AND r.currency = p.currency AND r.generation = p.generation))
    UNION ALL
    SELECT p.source || ' ' || p.key || ' generation ' || p.generation FROM posting p JOIN settlement s USING (client_id, source, key, currency)
      WHERE p.client_id = current_client() AND p.generation > s.generation
    UNION ALL
    SELECT p.source || ' ' || p.key || ' posted twice' FROM posting p WHERE p.client_id = current_client()
      AND NOT EXISTS (SELECT FROM reversal r WHERE r.client_id = p.client_id AND r.source = p.source AND r.key = p.key AND r.currency = p.currency
        AND r.generation = p.generation) GROUP BY p.source, p.key, p.currency HAVING count(*) > 1`,
  'an entry taken back without a mirror, or a mirror of what stands': sql`
    SELECT e.fiscal_year || '-' || e.number AS what FROM entry e WHERE e.client_id = current_client() AND e.source IS NOT NULL
      AND e.document <> 'reversal' AND EXISTS (SELECT FROM reversal r WHERE r.client_id = e.client_id AND r.source = e.source AND r.key = e.key
        AND r.currency = e.currency AND r.generation = e.generation) IS DISTINCT FROM EXISTS (SELECT FROM entry m WHERE m.client_id = e.client_id
        AND m.reverses_year = e.fiscal_year AND m.reverses_number = e.number)`,
  'a payment whose decision stands without its entry, or whose entry stands without it': sql`
    SELECT d.source || ' ' || d.line_id AS what FROM payment_decision d WHERE d.client_id = current_client() AND d.number IS NOT NULL
      AND (d.undone_by IS NULL) = EXISTS (SELECT FROM entry m WHERE m.client_id = d.client_id AND m.reverses_year = d.fiscal_year
        AND m.reverses_number = d.number)
    UNION ALL
    SELECT m.channel || ' ' || m.tender_line || ' tied by nobody' FROM tender_match m WHERE m.client_id = current_client() AND m.to_pull IS NULL
      AND m."by" = 'by_hand' AND NOT EXISTS (SELECT FROM payment_decision d WHERE d.client_id = m.client_id AND d.source = m.channel
        AND d.line_id = m.tender_line AND d.other_source = m.gateway AND d.other_line = m.collection_line AND d.undone_by IS NULL)`,
  'a settlement composed under a setup that is no more': sql`
    SELECT s.source || ' ' || s.key AS what FROM settlement s JOIN client c USING (client_id) WHERE s.client_id = current_client()
      AND s.state IN ('blocked', 'proposed', 'set_aside', 'elsewhere') AND s.map_version <> c.setup_version`,
  'a transfer whose marks are not those of its posting and pairing': sql`
    SELECT t.payout_line AS what FROM transfer t JOIN settlement s USING (client_id, source, key, currency) WHERE t.client_id = current_client()
      AND ((NOT t.reversed) IS DISTINCT FROM (s.state = 'posted' AND s.generation = t.generation)
        OR t.paired IS DISTINCT FROM EXISTS (SELECT FROM paired_transfer m WHERE m.client_id = t.client_id AND m.source = t.source
          AND m.payout_line = t.payout_line AND m.generation = t.generation AND m.active))`,
  'a bank line that is open and decided, or neither': sql`
    SELECT b.line_id AS what FROM bank_line b WHERE b.client_id = current_client()
      AND EXISTS (SELECT FROM open_bank_line o WHERE o.client_id = b.client_id AND o.bank_account = b.bank_account AND o.line_id = b.line_id)
        = EXISTS (SELECT FROM paired_bank_line m WHERE m.client_id = b.client_id AND m.bank_account = b.bank_account AND m.line_id = b.line_id AND m.active)`,
  'a settlement whose figures are not those of its lines': sql`
    SELECT s.source || ' ' || s.key AS what FROM settlement s
    CROSS JOIN LATERAL (SELECT count(*)::int AS lines, coalesce(sum(l.amount), 0)::bigint AS balance FROM activity_line l
      WHERE l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency AND l.status = 'available'
        AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source AND x.line_id = l.line_id
          AND x.revision = l.revision)) f
    WHERE s.client_id = current_client() AND (s.lines <> f.lines OR s.balance <> f.balance)`,
  'a kept sum that is not that of its lines, up to some pull': sql`
    SELECT source || ' ' || settlement_key || ' pull ' || at || ' ' || part AS what FROM (
      SELECT l.source, l.settlement_key, l.currency, l.local_date, at.pull AS at, sum_part(l.kind, false) AS part, l.status,
        CASE WHEN l.kind IN ('tender', 'tender_returned') THEN coalesce(l.gateway, '') ELSE '' END AS label, at.sign * l.amount AS amount, at.sign AS lines
      FROM line_as_of l CROSS JOIN LATERAL (VALUES (l.from_pull, 1), (l.to_pull, -1)) at(pull, sign)
      WHERE l.client_id = current_client() AND l.status <> 'failed' AND at.pull IS NOT NULL
      UNION ALL
      SELECT l.source, l.settlement_key, l.currency, l.local_date, at.pull, side.part, l.status, '', at.sign * side.sign * l.amount, at.sign * side.sign
      FROM tender_match m JOIN line_as_of l ON l.client_id = m.client_id AND l.source = m.gateway AND l.line_id = m.collection_line
      CROSS JOIN LATERAL (VALUES (greatest(l.from_pull, m.from_pull), 1), (least(l.to_pull, m.to_pull), -1)) at(pull, sign)
      CROSS JOIN (VALUES ('other', -1), ('matched', 1)) side(part, sign)
      WHERE l.client_id = current_client() AND l.status <> 'failed' AND l.kind IN ('collected', 'collected_back') AND at.pull IS NOT NULL
        AND greatest(l.from_pull, m.from_pull) < coalesce(least(l.to_pull, m.to_pull), 2147483647)
      UNION ALL
      SELECT source, settlement_key, currency, local_date, pull_no, part, status, label, -amount, -lines FROM activity_sum
      WHERE client_id = current_client()) moves
    GROUP BY source, settlement_key, currency, local_date, at, part, status, label HAVING sum(amount) <> 0 OR sum(lines) <> 0`,
  'a week that is not what its lines come to': sql`
    SELECT source || ' ' || kind || ' ' || week AS what FROM (
      SELECT l.source, l.kind, coalesce(l.category, '') AS category, coalesce(l.region, '') AS region, l.currency,
        date_trunc('week', l.local_date)::date AS week, l.amount, 1 AS lines
      FROM line_as_of l WHERE l.client_id = current_client() AND l.stands AND l.status <> 'failed'
      UNION ALL SELECT source, kind, category, region, currency, week, -amount, -lines FROM activity_week WHERE client_id = current_client()) moves
    GROUP BY source, kind, category, region, currency, week HAVING sum(amount) <> 0 OR sum(lines) <> 0`,
  'a settlement of nothing, that was never posted': sql`
    SELECT s.source || ' ' || s.key AS what FROM settlement s WHERE s.client_id = current_client() AND NOT s.has_head
      AND NOT EXISTS (SELECT FROM activity_line l WHERE l.client_id = s.client_id AND l.source = s.source AND l.settlement_key = s.key AND l.currency = s.currency)`,
  'an order that is open and not kept, or the other way': sql`
    SELECT source || ' ' || order_id || line_id AS what FROM (
      SELECT l.source, l.currency, coalesce(l.order_id, '') AS order_id, CASE WHEN l.order_id IS NULL THEN l.line_id ELSE '' END AS line_id,
        l.kind IN ('payout', 'payout_returned') AS payout, CASE WHEN l.status = 'available' THEN l.amount ELSE 0 END AS available,
        CASE WHEN l.status = 'pending' THEN l.amount ELSE 0 END AS pending
      FROM line_as_of l JOIN source s ON s.client_id = l.client_id AND s.source = l.source AND s.shape = 'channel'
      WHERE l.client_id = current_client() AND l.stands AND l.status <> 'failed' AND l.kind NOT IN ('stock_received', 'supplier_credit')
      UNION ALL
      SELECT source, currency, order_id, line_id, payout, -available, -pending FROM open_order WHERE client_id = current_client()) open
    GROUP BY source, currency, order_id, line_id, payout HAVING sum(available) <> 0 OR sum(pending) <> 0`,
  'a tender or collection that is alone and not kept, or the other way': sql`
    SELECT l.source || ' ' || l.line_id AS what FROM line_as_of l WHERE l.client_id = current_client()
      AND (l.stands AND l.status <> 'failed' AND kind_is_tie(l.kind)
        AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.gateway = l.source AND t.collection_line = l.line_id AND t.to_pull IS NULL)
        AND NOT EXISTS (SELECT FROM tender_match t WHERE t.client_id = l.client_id AND t.channel = l.source AND t.tender_line = l.line_id AND t.to_pull IS NULL))
      IS DISTINCT FROM EXISTS (SELECT FROM open_tie o WHERE o.client_id = l.client_id AND o.source = l.source AND o.line_id = l.line_id AND o.revision = l.revision)`,
} as const

/** Everything that does not hold of a client, in words; empty where all does. */
export const brokenInvariants = (database: Database, actor: Actor): Promise<string[]> =>
  asClient(database, actor, async tx => {
    const found: string[] = []
    for (const { what, seq, actId } of (await checkSeals(tx, actor.clientId)).faults)
      found.push(`a seal that is not right: ${what} at ${seq}, ${actId}`)
    for (const [what, statement] of Object.entries(broken)) {
      const rows = await rowsOf(tx, { what: is.text }, statement)
      if (rows.length > 0)
        found.push(
          `${what}: ${rows
            .slice(0, 5)
            .map(row => row.what)
            .join(', ')}`,
        )
    }
    const waits = () =>
      rowsOf(
        tx,
        { stage: is.text, waiting: is.whole, amount: is.minor, note: is.text },
        sql`SELECT stage, waiting, amount, note FROM client_summary WHERE client_id = current_client() AND NOT stale ORDER BY stage`,
      )
    const kept = await waits()
    await markStages(tx, stages)
    await countStaleIn(tx, counters)
    const counted = new Map((await waits()).map(row => [row.stage, JSON.stringify(row)]))
    for (const row of kept)
      if (counted.get(row.stage) !== JSON.stringify(row))
        found.push(`what waits is not what is counted: ${JSON.stringify(row)}, counted ${counted.get(row.stage)}`)
    return found
  })
