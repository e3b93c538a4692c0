import { type Endpoint, endpoints } from '@culvert/contract'
import { expect, test } from '@playwright/test'
import { answerOf } from './asking.ts'
import { askDatabase, client, euros, rowWith } from './books.ts'

test.describe.configure({ mode: 'serial' })

/** A day at the market, told by hand: a kind that no route serves yet, and a kit that the rule is about. */
const marketDay = {
  name: 'market.csv',
  mimeType: 'text/csv',
  buffer: Buffer.from(
    [
      'line_id,occurred_at,kind,category,description,region,currency,amount',
      'M-1,2026-07-04T11:00:00+01:00,sale,Tableware,Small bowl,IE,EUR,24.60',
      'M-2,2026-07-04T12:00:00+01:00,sale,Tableware,Kiln Lane starter box,IE,EUR,36.90',
      'M-3,2026-07-04T12:00:00+01:00,tip,,For the thrower,,EUR,5.00',
    ].join('\n'),
  ),
}

test('a rule says what it reads like and touches before it is saved', async ({ page }) => {
  await page.goto(`${client}/mapping/rules`)
  await expect(page.getByText('No rules.')).toBeVisible()
  await page.getByRole('button', { name: 'Add a rule' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Condition 1, value').fill('Starter')
  await dialog.getByLabel('Action 1, what it does').selectOption('segment')
  await dialog.getByRole('button', { name: 'Done' }).click()
  await expect(dialog.getByRole('alert')).toContainText('To what?')
  await dialog.getByLabel('Action 1, segment', { exact: true }).fill('range')
  await dialog.getByLabel('Action 1, segment value').fill('starter')
  await expect(dialog).toContainText('When the description contains “Starter”: with range “starter”.')
  const [counted] = await askDatabase<{ lines: number; amount: number }>(
    `SELECT count(*)::int AS lines, sum(amount)::int AS amount FROM activity_line l WHERE client_id = 1
      AND description ILIKE '%starter%' AND status = 'available'
      AND local_date >= (SELECT max(local_date) FROM activity_line WHERE client_id = 1) - 90
      AND NOT EXISTS (SELECT FROM activity_superseded x WHERE (x.client_id, x.source, x.line_id, x.revision)
        = (l.client_id, l.source, l.line_id, l.revision))`,
  )
  await expect(dialog).toContainText(
    `Touches ${counted?.lines} lines of the last 13 weeks, € ${euros(counted?.amount ?? 0)}`,
  )
  await dialog.getByRole('button', { name: 'Done' }).click()
  await expect(page.getByText('1 rule instead of 0.')).toBeVisible()
  await page.getByRole('button', { name: 'Save rules' }).click()
  await expect(page.getByText(/Saved as version \d+ of the map/)).toBeVisible()
  await expect(page.getByRole('table', { name: 'Rules' })).toContainText('When the description contains “Starter”')
})

test('the starter map proposes a route and an account for what is new', async ({ page }) => {
  await page.goto(`${client}/sources/openhall`)
  await page.getByLabel('Bring in files').setInputFiles([marketDay])
  await expect(page.getByText(/market.csv: 3 rows new/)).toBeVisible()
  await page.goto(`${client}/mapping/openhall`)
  await page.getByRole('link', { name: 'Propose routes for 1' }).click()
  const proposed = page.getByRole('table', { name: 'Proposed routes' })
  await expect(proposed).toContainText('to make: Tip')
  await page.getByLabel('Take Tip').check()
  await page.getByRole('button', { name: 'Make 1 route and 1 account' }).click()
  await expect(page.getByText(/Saved as version \d+ of the map. 1 settlement no longer blocked/)).toBeVisible()
  const [made] = await askDatabase<{ type: string; routes: number }>(
    `SELECT a.type, (SELECT count(*)::int FROM route r WHERE r.client_id = 1 AND r.kind = 'tip' AND r.account = a.code) AS routes
      FROM account a WHERE a.client_id = 1 AND a.name = 'Tip'`,
  )
  expect(made).toEqual({ type: 'current_liability', routes: 1 })
})

test('what the rule decided stands in the entry and in the trace', async ({ page }) => {
  await page.goto(`${client}/settlements/openhall/day%3A2026-07-04/EUR`)
  await expect(page.getByText('▨ proposed')).toBeVisible()
  const line = rowWith(page, 'Tableware · starter')
  // 36.90 holds 6.90 at 23 percent.
  await expect(line).toContainText('30.00')
  await page.getByRole('button', { name: 'Post and next' }).click()
  await expect(page.getByText('Posted 1 settlement')).toBeVisible()
  await page.goto(`${client}/settlements/openhall/day%3A2026-07-04/EUR`)
  await line.getByRole('button', { name: 'Trace 30.00' }).click()
  await expect(page.getByRole('dialog', { name: 'Trace' })).toContainText('then rule 1')
})

test('what a rule touches opens to the lines that it meets', async ({ page }) => {
  await page.goto(`${client}/mapping/rules`)
  const rule = page.getByRole('table', { name: 'Rules' }).getByRole('row').nth(1)
  const met = Number((await rule.getByRole('cell').nth(2).textContent())?.replace(/\D/g, ''))
  expect(met).toBeGreaterThan(0)
  await rule.getByRole('button', { name: /^Open / }).click()
  await expect(page.locator('main')).toContainText(`${met.toLocaleString('en-IE')} line`)
  await expect(page.getByRole('table', { name: 'Lines of Rule 1' }).getByRole('row')).not.toHaveCount(0)
})

test('an item is made, and a route can point to it', async ({ page }) => {
  await page.goto(`${client}/mapping/items`)
  await page.getByRole('button', { name: 'Add an item' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('SKU').fill('MUG-01')
  await dialog.getByLabel('Name', { exact: true }).fill('Mug, speckled')
  await dialog.getByRole('combobox', { name: 'Account of the item' }).click()
  await page.keyboard.type('4000')
  await page.getByRole('option', { name: 'Sales, tableware' }).click()
  await dialog.getByLabel('Cost of one, EUR').fill('4.25')
  await dialog.getByLabel('From').fill('2026-01-01')
  await dialog.getByRole('button', { name: 'Save item' }).click()
  const items = page.getByRole('table', { name: 'Items' })
  await expect(items.getByRole('row').filter({ hasText: 'MUG-01' })).toContainText('4.25')
  await page.goto(`${client}/mapping/openhall`)
  await page.getByRole('combobox', { name: 'Account for Tip' }).click()
  await page.keyboard.type('speckled')
  await expect(page.getByRole('option', { name: /Item MUG-01/ })).toBeVisible()
  await page.keyboard.press('Escape')
})

test('a tax code with two components, one on the other, is made and checked', async ({ page }) => {
  await page.goto(`${client}/mapping/tax/codes`)
  await page.getByRole('button', { name: 'Add a tax code' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Code', { exact: true }).fill('TWO')
  await dialog.getByLabel('Name', { exact: true }).fill('Two taxes')
  await dialog.getByLabel('Rate, %').fill('5')
  await dialog.getByRole('button', { name: 'Add a component' }).click()
  await dialog.getByLabel('Rate, %').nth(1).fill('9.975')
  await dialog.getByLabel('on the price and the components before').check()
  await dialog.getByRole('button', { name: 'Save tax code' }).click()
  await expect(rowWith(page, 'Two taxes')).toHaveCount(2)
  await page.getByRole('link', { name: 'Check a month’s tax' }).click()
  await expect(page.getByRole('table', { name: 'Tax by code' })).toContainText('S23')
  await expect(page.getByText('more than rounding')).toHaveCount(0)
})

test('of a code for purchases it is said how much of the tax is taken back, and no more than all', async ({ page }) => {
  await page.goto(`${client}/mapping/tax/codes`)
  await page.getByRole('button', { name: 'Add a tax code' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Code', { exact: true }).fill('P60')
  await dialog.getByLabel('Name', { exact: true }).fill('VAT, partly exempt')
  await dialog.getByLabel('Country').fill('ie')
  await expect(dialog.getByRole('button', { name: 'Only a part is taken back' })).toHaveCount(0)
  await dialog.getByLabel('Use').selectOption('purchases')
  await dialog.getByLabel('Rate, %').fill('23')
  await dialog.getByRole('button', { name: 'Only a part is taken back' }).click()
  await dialog.getByRole('button', { name: 'Save tax code' }).click()
  await expect(dialog).toContainText('A percentage, like 13.5.')
  await expect(dialog).toContainText('Write a day')
  await dialog.getByLabel('Taken back, %').fill('160')
  await dialog.getByLabel('From').last().fill('2026-01-01')
  await dialog.getByRole('button', { name: 'Save tax code' }).click()
  await expect(page.getByText(/no share between 0 and 100 percent/)).toBeVisible()
  await dialog.getByLabel('Taken back, %').fill('60')
  await dialog.getByRole('button', { name: 'Save tax code' }).click()
  await expect(rowWith(page, 'P60')).toContainText('60 % back from 1 Jan 2026')
  await expect(rowWith(page, 'P60')).toContainText('IE')
})

test('dollars wait for their rate, are given it on the spot, and are posted with both amounts', async ({ page }) => {
  const ask = (endpoint: Endpoint, data: unknown = {}) => answerOf(page.request, 1, endpoint, { data })
  await ask(endpoints.addAccounts, [
    { code: '1001', name: 'Skerrymoor dollar account', type: 'bank', currency: 'USD' },
    { code: '1230', name: 'Brookpay clearing, dollars', type: 'clearing', currency: 'USD' },
  ])
  await ask(endpoints.addSource, {
    source: 'brookpay-dollars',
    name: 'Brookpay, dollars',
    shape: 'gateway',
    clearing: [{ currency: 'USD', account: '1230' }],
    banks: [{ direction: 'into', currency: 'USD', account: '1001' }],
  })
  const { version } = endpoints.items.answer.parse(await ask(endpoints.items))
  await ask(endpoints.saveRoutes, {
    version,
    changed: [{ routeId: null, kind: 'collected', source: 'brookpay-dollars', account: '4000', taxCode: null }],
  })
  await page.goto(`${client}/sources/brookpay-dollars`)
  await page.getByLabel('Bring in files').setInputFiles([
    {
      name: 'dollars.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(
        [
          'line_id,settlement_id,occurred_at,kind,currency,amount',
          'D-1,BP-1,2026-07-03T11:00:00+01:00,collected,USD,100.00',
          'D-2,BP-1,2026-07-03T12:00:00+01:00,payout,USD,-60.00',
        ].join('\n'),
      ),
    },
  ])
  await expect(page.getByText(/dollars.csv: 2 rows new/)).toBeVisible()
  await page.goto(`${client}/settlements/brookpay-dollars/BP-1/USD`)
  const blocks = page.getByRole('region', { name: 'What blocks it' })
  await expect(blocks).toContainText('exchange rate missing')
  await blocks.getByLabel('Rate of USD in EUR').fill('0,92')
  await blocks.getByRole('button', { name: 'Use this rate' }).click()
  await expect(page.getByText('▨ proposed')).toBeVisible()
  await page.getByRole('button', { name: 'Post and next' }).click()
  await expect(page.getByText('Posted 1 settlement, 2 entries.')).toBeVisible()
  const lines = await askDatabase<{ account: string; amount: number; base: number }>(
    `SELECT l.account, sum(l.amount)::int AS amount, sum(l.base_amount)::int AS base FROM entry e
      JOIN entry_line l USING (client_id, fiscal_year, number) WHERE e.source = 'brookpay-dollars' GROUP BY 1 ORDER BY 1`,
  )
  // 100.00 dollars are 92.00 euro, the 60.00 paid out 55.20; 40.00 stay at 36.80.
  expect(lines).toEqual([
    { account: '1001', amount: 6000, base: 5520 },
    { account: '1230', amount: 4000, base: 3680 },
    { account: '4000', amount: -10_000, base: -9200 },
  ])
  await page.goto(`${client}/books/rates`)
  await expect(page.getByRole('table', { name: 'Exchange rates' })).toContainText('3 Jul 2026USD0.92EUR')
})

test('a payment that a buyer’s bank took back is decided, and disputed again when that is taken back', async ({
  page,
}) => {
  await page.goto(`${client}/payments`)
  await page.getByRole('link', { name: 'Disputed payments' }).click()
  await expect(page.getByText('1 payment to decide')).toBeVisible()
  const balance = () =>
    askDatabase(
      "SELECT sum(debit - credit)::int AS balance FROM account_total WHERE client_id = 1 AND account = '1320'",
    )
  expect(await balance()).toEqual([{ balance: 7900 }])
  await page.getByRole('button', { name: /^Decide / }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('radio', { name: 'Write it off' }).check()
  await dialog.getByRole('button', { name: 'Write it off' }).click()
  await expect(dialog.getByText('Choose the account.')).toBeVisible()
  await dialog.getByLabel('Cost account').selectOption('6900')
  await dialog.getByRole('button', { name: 'Write it off' }).click()
  await expect(page.getByText(/^■? ?Written off: € 79\.00/)).toBeVisible()
  await expect(page.getByText('nothing to decide')).toBeVisible()
  expect(await balance()).toEqual([{ balance: 0 }])
  await page.getByRole('button', { name: /^Take the decision on / }).click()
  await expect(page.getByText('it is disputed again')).toBeVisible()
  await expect(page.getByText('1 payment to decide')).toBeVisible()
  expect(await balance()).toEqual([{ balance: 7900 }])
})
