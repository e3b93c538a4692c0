import { endpoints } from '@culvert/contract'
import { expect, test } from '@playwright/test'
import { answerOf } from './asking.ts'
import { askDatabase, client, euros } from './books.ts'

interface Settlement {
  readonly key: string
  readonly lines: number
  readonly orders: number
  readonly sum: number
  readonly paid: number
}

// What each step of a trace must say, from the activity itself: no table that the application derives is asked.
const settlements = (): Promise<Settlement[]> =>
  askDatabase<Settlement>(`
  WITH now AS (SELECT l.* FROM activity_line l WHERE l.client_id = 1 AND l.status = 'available' AND NOT EXISTS (SELECT FROM activity_line n
    WHERE n.client_id = l.client_id AND n.source = l.source AND n.line_id = l.line_id AND n.revision > l.revision))
  SELECT settlement_id AS key, (count(*) FILTER (WHERE kind <> 'payout'))::int AS lines, count(DISTINCT order_id)::int AS orders,
    (sum(amount) FILTER (WHERE kind <> 'payout'))::int AS sum, (-sum(amount) FILTER (WHERE kind = 'payout'))::int AS paid
  FROM now WHERE settlement_id NOT IN ('OH-2620', 'OH-2624') GROUP BY 1 ORDER BY 1 LIMIT 20`)

test('the trace of 20 settlements says what the activity sums up to', async ({ page }) => {
  const wanted = await settlements()
  expect(wanted).toHaveLength(20)
  for (const settlement of wanted) {
    const query = { at: 'settlement', source: 'openhall', key: settlement.key, currency: 'EUR' }
    const { steps } = endpoints.trace.answer.parse(await answerOf(page.request, 1, endpoints.trace, { query }))
    const told = steps.map(step => [step.count, step.amount])
    expect([told[0]?.[0], told[1], told[4]?.[1], told[5]?.[1]], settlement.key).toEqual([
      settlement.orders,
      [settlement.lines, settlement.sum],
      settlement.paid,
      settlement.paid,
    ])
  }
  // And so the panel shows it.
  for (const settlement of wanted.slice(0, 3)) {
    await page.goto(`${client}/settlements/openhall/${settlement.key}/EUR`)
    await page.getByRole('button', { name: 'Trace', exact: true }).click()
    const panel = page.getByRole('dialog', { name: 'Trace' })
    await expect(panel.getByRole('heading', { level: 3 })).toHaveText(settlement.key)
    const steps = panel.getByRole('listitem')
    await expect(steps.nth(0)).toContainText(`${settlement.orders} orders`)
    await expect(steps.nth(1)).toContainText(`${settlement.lines} activity lines`)
    await expect(steps.nth(1)).toContainText(euros(settlement.sum))
    await expect(steps.nth(4)).toContainText(euros(settlement.paid))
    await expect(steps.nth(5)).toContainText(euros(settlement.paid))
  }
})

test('a figure leads from the order to the bank line and back', async ({ page }) => {
  const [sample] = await askDatabase<{ order: string; line: string; amount: number; key: string }>(`
    SELECT order_id AS "order", line_id AS line, amount::int, settlement_id AS key FROM activity_line
    WHERE kind = 'sale' AND settlement_id = 'OH-2611' ORDER BY line_id LIMIT 1`)
  if (!sample) throw new Error('no sale in OH-2611')
  await page.goto(`${client}/settlements`)
  await page.getByRole('row').nth(3).waitFor()
  await page.keyboard.press('Control+k')
  await page.keyboard.type(sample.order)
  await page.getByRole('option', { name: new RegExp(`Order ${sample.order}`) }).click()
  const panel = page.getByRole('dialog', { name: 'Trace' })
  await expect(panel.getByRole('heading', { level: 3 })).toHaveText(`Order ${sample.order}`)
  await panel.getByRole('button', { name: sample.line }).click()
  await expect(panel.getByRole('heading', { level: 3 })).toContainText(sample.line)
  await expect(panel.getByRole('listitem').nth(2)).toContainText('→ 40')
  await expect(panel.getByRole('listitem').nth(5)).toContainText('OPENHALL SETTL 2611')
  await panel.getByRole('listitem').nth(3).getByRole('link').first().click()
  await expect(page.locator('h1')).toContainText('Entry 2026-')
})

test('every line of an entry traces to lines that make it up', async ({ page }) => {
  const lines = await askDatabase<{ number: string; line: number; account: string; amount: number; tax: string }>(`
    SELECT e.fiscal_year || '-' || e.number AS number, l.line_no AS line, l.account, l.amount::int, l.tax_code AS tax
    FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number) WHERE e.key = 'OH-2611' AND e.document = 'journal' ORDER BY 2`)
  for (const line of lines) {
    const query = { at: 'entry_line', entry: line.number, line: line.line }
    const { steps } = endpoints.trace.answer.parse(await answerOf(page.request, 1, endpoints.trace, { query }))
    const activity = steps.find(step => step.sort === 'line')?.amount ?? 0
    // Without tax a line's activity is its amount; with tax it is the gross that the amount is part of.
    if (line.tax === '') expect(-activity * (line.account === '1210' ? -1 : 1), `${line.account}`).toBe(line.amount)
    else
      expect(Math.abs(activity), `${line.account} ${line.tax}`).toBeGreaterThanOrEqual(
        Math.abs(line.amount) * (line.account.startsWith('22') ? 1 : 0.99),
      )
  }
})

test('a sum over many settlements opens its heaviest parts, and each of them its own way', async ({ page }) => {
  const [sum] = await askDatabase<{ amount: number; lines: number; entry: string; heaviest: number }>(`
    SELECT sum(amount)::int AS amount, count(*)::int AS lines, max(amount)::int AS heaviest,
      (array_agg(fiscal_year || '-' || number ORDER BY amount DESC, date DESC))[1] AS entry
    FROM entry_line WHERE client_id = 1 AND account = '1210' AND amount > 0`)
  if (!sum) throw new Error('nothing on 1210')
  await page.goto(`${client}/books`)
  const account = page.getByRole('row', { name: /^1210/ })
  await account
    .getByRole('button', { name: `Trace ${euros(sum.amount)}` })
    .first()
    .click()
  const panel = page.getByRole('dialog', { name: 'Trace' })
  await expect(panel.getByRole('heading', { level: 3 })).toHaveText('1210 Openhall clearing, debits')
  await expect(panel.getByRole('listitem')).toContainText(`${sum.lines} entry lines`)
  await expect(panel.getByRole('row').first()).toContainText(euros(sum.heaviest))
  await panel.getByRole('button', { name: sum.entry, exact: true }).click()
  await expect(panel.getByRole('heading', { level: 3 })).toHaveText('1210 Openhall clearing')
  await expect(panel.getByRole('listitem')).toHaveCount(6)

  const [kind] = await askDatabase<{ amount: number; lines: number }>(`
    SELECT sum(amount)::int AS amount, count(*)::int AS lines FROM activity_line l WHERE client_id = 1 AND kind = 'selling_fee'
      AND local_date >= date_trunc('week', (SELECT max(local_date) FROM activity_line WHERE client_id = 1) - 90)
      AND NOT EXISTS (SELECT FROM activity_line n WHERE n.client_id = l.client_id AND n.line_id = l.line_id AND n.revision > l.revision)`)
  await page.goto(`${client}/mapping/openhall`)
  await page.getByRole('button', { name: `Trace ${euros(kind?.amount ?? 0)}` }).click()
  await expect(panel.getByRole('listitem')).toContainText(`${kind?.lines} activity lines`)
})

test('what is sold of a class, into a cell of the grid, opens to its lines', async ({ page }) => {
  await page.goto(`${client}/mapping/tax`)
  const goods = page.getByRole('table', { name: 'Classes of goods' }).getByRole('row').nth(1)
  const opener = goods.getByRole('button', { name: /^Open / })
  const amount = ((await opener.textContent()) ?? '').trim()
  await opener.click()
  await expect(page.getByRole('button', { name: `Back to the grid` })).toBeVisible()
  const lines = page.getByRole('table', { name: /^Lines of / })
  await expect(page.locator('main')).toContainText(new RegExp(`lines?.*${amount}`))
  await lines
    .getByRole('button', { name: /^Trace / })
    .first()
    .click()
  await expect(page.getByRole('dialog', { name: 'Trace' })).toContainText('you are here')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Back to the grid' }).click()
  await page.getByRole('button', { name: /^DE, goods/ }).click()
  await page.getByRole('button', { name: /^List its \d/ }).click()
  await expect(lines).toContainText('DE')
})

test('the waterline’s figures are the running sums of the entries', async ({ page }) => {
  const books = await askDatabase<{ day: string; balance: number }>(`
    SELECT date::text AS day, sum(sum(amount)) OVER (ORDER BY date)::int AS balance FROM entry_line WHERE client_id = 1 AND account = '1210' GROUP BY date ORDER BY date`)
  await page.goto(`${client}/clearing/1210`)
  await page.getByRole('button', { name: 'as a table' }).click()
  const table = page.getByRole('table', { name: 'Waterline figures' })
  await table.waitFor()
  const drawn = new Map(
    await table
      .locator('tbody tr')
      .evaluateAll(rows =>
        rows.map(row => [row.children[0]?.textContent ?? '', row.children[1]?.textContent ?? ''] as [string, string]),
      ),
  )
  const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul']
  const shown = books.filter(({ day: date }) => date >= '2026-04-01' && date <= '2026-06-21')
  expect(shown.length).toBeGreaterThan(20)
  for (const { day: date, balance } of shown)
    expect(drawn.get(`${Number(date.slice(8))} ${months[Number(date.slice(5, 7)) - 1]} 2026`), date).toBe(
      euros(balance),
    )
})
