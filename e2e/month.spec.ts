import { expect, type Page, test } from '@playwright/test'
import { askDatabase, client, demoFile, euros, rowWith } from './books.ts'
import { bringIn, downTo, pressOn, tabTo } from './byKeyboard.ts'

/** Its row among the sources; it stands among what can be added too. */
const openhall = (page: Page) =>
  page.getByRole('table', { name: 'Sources' }).getByRole('row').filter({ hasText: 'Openhall' })

// A month from pull to proof and lock by keyboard alone: what is in reach by the mouse, the other files show.
test.describe.configure({ mode: 'serial' })

test('new activity is pulled, as a job that goes on when the page is left', async ({ page }) => {
  await page.goto(`${client}/sources`)
  await expect(openhall(page)).toContainText('21 Jun 2026')
  await pressOn(page, openhall(page).getByRole('button', { name: 'Pull' }))
  await page.keyboard.press('7')
  await expect(page.getByRole('heading', { name: 'Chart of accounts' })).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByRole('heading', { name: 'Sources' })).toBeVisible()
  await expect(openhall(page)).toContainText('5 Jul 2026', { timeout: 40_000 })
  await downTo(page, 'Openhall')
  await page.keyboard.press('Enter')
  await expect(page.getByText('2 lines of posted settlements came back changed')).toBeVisible()
  // Pulling again adds nothing.
  await pressOn(page, page.getByRole('button', { name: 'Pull new activity' }))
  await expect(page.getByRole('table', { name: 'Pull log' }).getByRole('row').filter({ hasText: 'done' })).toHaveCount(
    5,
    { timeout: 40_000 },
  )
  const [lines] = await askDatabase<{ lines: number; revised: number }>(
    'SELECT count(*)::int AS lines, count(*) FILTER (WHERE revision > 1)::int AS revised FROM activity_line',
  )
  expect(lines?.revised).toBe(2)
  expect(lines?.lines).toBeGreaterThan(11_000)
})

test('the late correction is seen and booked', async ({ page }) => {
  await page.goto(`${client}/settlements?state=corrected`)
  await downTo(page, 'OH-26')
  await page.keyboard.press('Enter')
  const corrected = page.getByRole('region', { name: 'Corrected since it was posted' })
  await expect(corrected).toContainText('2 lines came back changed')
  await pressOn(page, corrected.getByRole('button', { name: 'Book the correction' }))
  await expect(page.getByText('The correction is booked.')).toBeVisible()
  await expect(corrected).toHaveCount(0)
  const entries = await askDatabase<{ sum: number }>(
    "SELECT sum(l.amount)::int AS sum FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number) WHERE e.document = 'correction'",
  )
  expect(entries).toEqual([{ sum: 0 }])
})

test('a blocked settlement says why, and mapping what is missing makes it proposed', async ({ page }) => {
  await page.goto(`${client}/settlements?state=blocked`)
  await expect(page.getByRole('row').filter({ hasText: 'not mapped' })).toHaveCount(5)
  await downTo(page, 'OH-2625')
  await page.keyboard.press('Enter')
  const blocks = page.getByRole('region', { name: 'What blocks it' })
  await expect(blocks).toContainText('not mapped')
  await expect(blocks).toContainText('Other charge · Gift wrap')
  // There is no account for it yet: it is made in place.
  await tabTo(page, blocks.getByRole('combobox', { name: 'Account for Other charge · Gift wrap' }))
  await page.keyboard.type('Gift wrap')
  const make = page.getByRole('option', { name: 'Make an account “Gift wrap” …' })
  await expect(page.getByRole('listbox').getByRole('option')).toHaveCount(1)
  await page.keyboard.press('ArrowDown')
  await expect(make).toHaveAttribute('data-highlighted', '')
  await page.keyboard.press('Enter')
  const dialog = page.getByRole('dialog', { name: 'Make an account' })
  // What was typed is its name already; Enter in a field does what the main button does.
  await expect(dialog.getByLabel('Name')).toHaveValue('Gift wrap')
  await tabTo(page, dialog.getByLabel('Code'))
  await page.keyboard.press('Control+a')
  await page.keyboard.type('4300')
  await page.keyboard.press('Enter')
  await expect(dialog).toHaveCount(0)
  await pressOn(page, blocks.getByRole('button', { name: 'Map it' }))
  // One waits for more: a book went to France, and nobody has decided its tax.
  await expect(page.getByText('4 settlements no longer blocked')).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 }).or(page.locator('h1'))).toContainText('OH-2625')
  await expect(page.getByText('▨ proposed')).toBeVisible()
})

test('an open cell of the tax grid is decided, and what it held up is blocked no longer', async ({ page }) => {
  await page.goto(`${client}/settlements/openhall/OH-2623/EUR`)
  const blocks = page.getByRole('region', { name: 'What blocks it' })
  await expect(blocks).toContainText('tax code missing')
  await expect(blocks).toContainText('Sale · Books')
  await pressOn(page, blocks.getByRole('link', { name: 'decide it in the tax grid' }).first())
  await expect(page.getByText('1 cell not decided')).toBeVisible()
  const [book] = await askDatabase<{ amount: number }>(
    "SELECT sum(amount)::int AS amount FROM activity_line WHERE client_id = 1 AND kind = 'sale' AND region = 'FR' AND category = 'Books'",
  )
  const cell = page.getByRole('button', { name: 'FR, books: not decided' })
  await expect(cell).toContainText(euros(book?.amount ?? 0))
  await pressOn(page, cell)
  // Another country's code would have to say why.
  const code = page.getByLabel('Tax code of the chosen cell')
  await tabTo(page, code)
  await page.keyboard.type('DE7')
  await expect(code).toHaveValue('DE7')
  await expect(page.getByLabel('Why another country’s tax')).toBeVisible()
  // Letters typed soon after others go on with their word.
  await page.waitForTimeout(1200)
  await page.keyboard.type('FR5')
  await expect(code).toHaveValue('FR5')
  await expect(page.getByLabel('Why another country’s tax')).toHaveCount(0)
  await page.keyboard.press('Control+s')
  await expect(page.getByText(/Saved as version \d+ of the map. 1 settlement no longer blocked/)).toBeVisible()
  await expect(page.getByText(/cells? not decided/)).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'FR, books: FR5' })).toBeVisible()
  // The tax check agrees, and lists the lines: the book, and its postage with it.
  await pressOn(page, page.getByRole('link', { name: 'Check a month’s tax' }))
  await expect(page.getByRole('heading', { name: 'Tax check' })).toBeVisible()
  await tabTo(page, page.getByRole('main').getByLabel('Month'))
  await page.keyboard.type('Jun 2026')
  await expect(page.getByRole('main').getByLabel('Month')).toHaveValue('2026-06')
  const french = page.getByRole('table', { name: 'Tax by destination' }).getByRole('row', { name: /FR · books/ })
  await expect(french).toContainText('FR5')
  await expect(french).not.toContainText('◆')
  await pressOn(page, french.getByRole('button', { name: /^List 2 lines/ }))
  await expect(page.getByRole('table', { name: /^Lines of FR · books/ }).getByRole('row')).toHaveCount(3)
})

test('posting, taking back and posting again leaves no trace in the balances', async ({ page }) => {
  const balances = () =>
    askDatabase<{ account: string; balance: string }>(
      'SELECT account, sum(debit - credit) AS balance FROM account_total GROUP BY 1 ORDER BY 1',
    )
  await page.goto(`${client}/settlements/openhall/OH-2625/EUR`)
  await expect(page.getByText('▨ proposed')).toBeVisible()
  await page.keyboard.press('p')
  await expect(page.getByText('Posted 1 settlement, 2 entries.')).toBeVisible()
  await page.goto(`${client}/settlements/openhall/OH-2625/EUR`)
  await expect(page.getByText('■ posted')).toBeVisible()
  const posted = await balances()
  await page.keyboard.press('b')
  await expect(page.getByText('Took back 1 settlement by 2 reversals.')).toBeVisible()
  await expect(page.getByText('▨ proposed')).toBeVisible()
  // The way back stands beside what was done.
  await pressOn(page, page.getByRole('button', { name: 'Post it again' }))
  await expect(page.getByText('Posted 1 settlement, 2 entries.')).toBeVisible()
  expect(await balances()).toEqual(posted)
})

test('all that is proposed is posted at once', async ({ page }) => {
  await page.goto(`${client}/settlements?state=proposed`)
  await expect(page.getByRole('button', { name: 'Post 4 settlements' })).toBeEnabled()
  await pressOn(page, page.getByRole('checkbox', { name: 'Select all shown' }), 'Space')
  await page.keyboard.press('p')
  await expect(page.getByRole('dialog')).toContainText(/Posts 4 settlements dated .*€ [\d,]+\.\d\d after fees/)
  await page.keyboard.press('Enter')
  // One of them spans two months.
  await expect(page.getByText('Posted 4 settlements, 9 entries.')).toBeVisible()
  const [gaps] = await askDatabase<{ count: number; highest: number }>(
    `SELECT (SELECT count(*)::int FROM entry WHERE client_id = 1) AS count,
      (SELECT sum(highest)::int FROM (SELECT max(number) AS highest FROM entry WHERE client_id = 1 GROUP BY fiscal_year) y) AS highest`,
  )
  expect(gaps?.count).toBe(gaps?.highest)
})

test('the statement comes in as camt and as CSV, and deposits are confirmed', async ({ page }) => {
  await page.goto(`${client}/bank`)
  await bringIn(page, 'Bring in a statement', demoFile('skerrymoor-june.camt.xml'))
  await expect(page.getByText(/skerrymoor-june.camt.xml: \d+ bank lines new, 0 known already/)).toBeVisible()
  // The same lines as CSV are known already, and so are those that the bank hands out.
  await bringIn(page, 'Bring in a statement', demoFile('skerrymoor-june.csv'))
  await expect(page.getByText(/skerrymoor-june.csv: 0 bank lines new/)).toBeVisible()
  await pressOn(page, page.getByRole('button', { name: 'Pull from the bank' }))
  // Two payouts of the same amount fit two deposits: likely, until a person says so.
  const likely = page.getByRole('button', { name: /^Payout Openhall OH-262[12] .*, likely$/ })
  await expect(likely).toHaveCount(2)
  await pressOn(page, page.getByRole('button', { name: /^Confirm [3-9] certain$/ }))
  await pressOn(page, page.getByRole('dialog').getByRole('button', { name: /^Confirm [3-9] pairings$/ }))
  await expect(page.getByText(/Confirmed \d pairings\./)).toBeVisible()
  await pressOn(page, likely.first())
  await pressOn(page, page.getByRole('button', { name: '1 other fits' }))
  await expect(page.getByRole('region', { name: 'Other groupings that fit' }).getByRole('row')).toHaveCount(2)
  await page.keyboard.press('p')
  await expect(page.getByText('Confirmed. It can be taken apart again.')).toBeVisible()
  // With the one tied, nothing else fits the other: it is certain now.
  await pressOn(page, page.getByRole('button', { name: /^Payout Openhall OH-2622 .*, certain$/ }))
  await page.keyboard.press('p')
  await expect(page.getByRole('button', { name: /^Payout Openhall OH-2622 .*, confirmed$/ })).toHaveCount(1)
  // Taken apart and confirmed again.
  await pressOn(page, page.getByRole('button', { name: /^Payout Openhall OH-2622 .*, confirmed$/ }))
  await page.keyboard.press('b')
  await expect(page.getByText('Taken apart; what it tied is open again.')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Payout Openhall OH-2622 .*, confirmed$/ })).toHaveCount(0)
  await pressOn(page, page.getByRole('button', { name: /^Payout Openhall OH-2622 / }))
  await page.keyboard.press('p')
  await expect(page.getByRole('button', { name: /^Payout Openhall OH-2622 .*, confirmed$/ })).toHaveCount(1)
})

test('a confirmed payout keeps its settlement from being taken back', async ({ page }) => {
  await page.goto(`${client}/settlements/openhall/OH-2622/EUR`)
  await expect(page.getByText('■ posted')).toBeVisible()
  await page.keyboard.press('b')
  await expect(page.getByText('its deposit is confirmed')).toBeVisible()
})

test('the proof closes', async ({ page }) => {
  await goToProof(page)
  await expect(page.getByText('closed: nothing unexplained')).toBeVisible()
  const [ledger] = await askDatabase<{ balance: number }>(
    "SELECT sum(debit - credit)::int AS balance FROM account_total WHERE account = '1210' AND day <= '2026-07-05'",
  )
  await expect(page.getByRole('row', { name: /Balance in the books/ })).toContainText(euros(ledger?.balance ?? 0))
  await pressOn(page, page.getByRole('button', { name: /payout on its way/ }))
  await expect(page.getByRole('link', { name: 'OH-2627' })).toBeVisible()
})

const goToProof = async (page: import('@playwright/test').Page): Promise<void> => {
  await page.goto(`${client}/settlements`)
  await expect(page.locator('h1')).toHaveText('Settlements')
  await page.keyboard.press('5')
  await downTo(page, 'Openhall clearing')
  await page.keyboard.press('Enter')
}

test('a month is locked, and nothing is posted into it', async ({ page }) => {
  await page.goto(`${client}/close`)
  // Months are locked in order, and one in which something is open only with a reason.
  await pressOn(page, page.getByRole('button', { name: 'Lock Jul 2026' }))
  await expect(page.getByRole('dialog')).toContainText('Dec 2025 is still open')
  await expect(page.getByRole('dialog').getByRole('listitem').first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'Lock the month' })).toBeDisabled()
  await page.keyboard.press('Escape')
  await pressOn(page, page.getByRole('button', { name: 'Lock Dec 2025' }))
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Nothing is open in it.')
  await pressOn(page, dialog.getByRole('button', { name: 'Lock the month' }))
  await expect(rowWith(page, 'Dec 2025')).toContainText('locked')
  await page.goto(`${client}/settlements/openhall/OH-2626/EUR`)
  await page.goto(`${client}/close`)
  await pressOn(page, page.getByRole('button', { name: 'Open Dec 2025' }))
  await expect(dialog).toContainText('Entries can be posted into it again.')
  await pressOn(page, dialog.getByRole('button', { name: 'Open again' }))
  await expect(rowWith(page, 'Dec 2025')).not.toContainText('locked')
})
