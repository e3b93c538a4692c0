import { endpoints } from '@culvert/contract'
import { expect, type Page, test } from '@playwright/test'
import { answerOf } from './asking.ts'
import { askDatabase, chooseAccount, demoFile } from './books.ts'

test.describe.configure({ mode: 'serial' })

const workshop = '/c/2'
const ask = <Row extends Record<string, unknown>>(text: string) => askDatabase<Row>(text, [], 2)
const mark = (page: Page, name: RegExp) => page.getByRole('button', { name })
const bar = (page: Page) => page.getByRole('region', { name: 'What can be done' })
const oneSided = (page: Page) => page.getByRole('table', { name: 'On one side only' }).locator('tbody').getByRole('row')

test('what only the shop or only the gateway knows is listed, with its money', async ({ page }) => {
  await page.goto(`${workshop}/payments`)
  await expect(oneSided(page)).toHaveCount(12)
  await expect(oneSided(page).filter({ hasText: '27 May 2026' })).toHaveCount(8)
  await expect(oneSided(page).filter({ hasText: 'collected differs from the order' })).toContainText('−2.00')
  const [sums] = await ask<{ tied: number; collected: string }>(
    `SELECT (SELECT count(*)::int FROM tender_match WHERE to_pull IS NULL) AS tied, (SELECT sum(l.amount)::text FROM activity_line l
      WHERE l.kind = 'collected' AND NOT EXISTS (SELECT FROM tender_match m WHERE m.gateway = l.source AND m.collection_line = l.line_id
        AND m.to_pull IS NULL)) AS collected`,
  )
  await expect(page.getByText(`${sums?.tied} payments tied`)).toBeVisible()
  // Eight of the lost day and the one without any order: what the gateway collected and nobody sold.
  expect(sums?.collected).toBe('87565')
})

test('a label is said to stand for the gateway, and to stand for none again', async ({ page }) => {
  await page.goto(`${workshop}/payments`)
  await page.getByLabel('Who collects Bank transfer').selectOption('brookpay')
  await expect(page.getByText('“Bank transfer” is collected by Brookpay from now on.')).toBeVisible()
  await expect(oneSided(page).filter({ hasText: 'never collected' }).nth(20)).toBeVisible()
  await page.getByLabel('Who collects Bank transfer').selectOption('')
  await expect(page.getByText('“Bank transfer” is no source’s from now on.')).toBeVisible()
  await expect(oneSided(page)).toHaveCount(12)
})

test('a one-sided payment is decided as proposed, another is said to be a gift, and both are taken back', async ({
  page,
}) => {
  await page.goto(`${workshop}/payments`)
  await expect(page.getByText('Differences up to CA$ 5.00 may be written off.')).toBeVisible()
  await page.keyboard.press('p')
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('1 price reduction')
  await dialog.getByRole('button', { name: 'Decide 1' }).click()
  await expect(page.getByText('Decided: 1 payment, 1 entry.')).toBeVisible()
  await expect(oneSided(page)).toHaveCount(11)
  // Nothing is done by a press too many: what is not proposed asks why.
  await oneSided(page).filter({ hasText: 'F-5778' }).getByText('never collected').click()
  await dialog.getByRole('button', { name: /^Decide/ }).click()
  await expect(dialog.getByText('Say why.')).toBeVisible()
  await dialog.getByRole('radio', { name: 'Gift' }).check()
  await dialog.getByRole('button', { name: 'Decide: gift' }).click()
  await expect(dialog.getByText('Choose the account.')).toBeVisible()
  await dialog.getByLabel('Account').selectOption('60900')
  await expect(dialog).toContainText('CA$ 52.49, against 12300 Brookpay clearing, without tax')
  await dialog.getByRole('button', { name: 'Decide: gift' }).click()
  await expect(oneSided(page)).toHaveCount(10)
  await page.getByRole('link', { name: 'Decided', exact: true }).click()
  const decided = page.getByRole('table', { name: 'Decided payments' })
  await expect(decided.getByRole('row').filter({ hasText: 'F-5770' })).toContainText('price reduction')
  await decided.getByRole('checkbox', { name: 'Select all shown' }).check()
  await page.keyboard.press('b')
  await dialog.getByRole('button', { name: 'Take back 2' }).click()
  await expect(page.getByText('Taken back: 2 decisions by 2 reversals.')).toBeVisible()
  await page.getByRole('link', { name: 'Tie-out', exact: true }).click()
  await expect(oneSided(page)).toHaveCount(12)
})

test('days on which everything is decided fold into one row, and open', async ({ page }) => {
  await page.goto(`${workshop}/bank?period=2026-05`)
  const fold = mark(page, /^\d+ decided payouts, .*: show each$/)
  await expect(fold.first()).toBeVisible()
  const decided = mark(page, /^Payout .*, confirmed$/)
  const before = await decided.count()
  const label = (await fold.last().getAttribute('aria-label')) ?? ''
  const folded = Number.parseInt(label, 10)
  expect(folded).toBeGreaterThan(0)
  await fold.last().click()
  await expect(decided).toHaveCount(before + folded)
})

test('two payouts in one deposit are certain, and confirmed as one', async ({ page }) => {
  await page.goto(`${workshop}/bank`)
  await mark(page, /^Payout Brookpay day:2026-06-08 .*, certain$/).click()
  await expect(bar(page)).toContainText('2 payouts = bank line BROOKPAY')
  await expect(bar(page)).toContainText('payouts that follow each other')
  await page.keyboard.press('p')
  await expect(mark(page, /^Payout Brookpay day:2026-06-09 .*, confirmed$/)).toHaveCount(1)
  await mark(page, /^Payout Brookpay day:2026-06-09 .*, confirmed$/).click()
  await page.keyboard.press('b')
  await expect(mark(page, /^Payout Brookpay day:2026-06-09 .*, certain$/)).toHaveCount(1)
})

test('words that the bank uses are learned, make it certain, and are forgotten', async ({ page }) => {
  await page.goto(`${workshop}/bank`)
  await mark(page, /^Payout Brookpay day:2026-06-12 .*, likely$/).click()
  await page.getByRole('button', { name: '“SKM TRANSFER CENTRE” is Brookpay' }).click()
  await expect(mark(page, /^Payout Brookpay day:2026-06-12 .*, certain$/)).toHaveCount(1)
  await page.goto(`${workshop}/bank/accounts`)
  await page.getByRole('button', { name: 'Forget SKM TRANSFER CENTRE' }).click()
  await expect(page.getByText('“SKM TRANSFER CENTRE” names nobody any more.')).toBeVisible()
  await page.goto(`${workshop}/bank`)
  await expect(mark(page, /^Payout Brookpay day:2026-06-12 .*, likely$/)).toHaveCount(1)
})

test('a deposit cut by a fee is confirmed with the fee, on the account that is named', async ({ page }) => {
  const charges = () =>
    ask<{ balance: string }>("SELECT sum(debit - credit)::text AS balance FROM account_total WHERE account = '60100'")
  const [before] = await charges()
  await page.goto(`${workshop}/bank`)
  await mark(page, /^Payout Brookpay day:2026-06-11 .*, possible$/).click()
  await expect(bar(page)).toContainText('difference −2.50')
  await chooseAccount(page, 'Account of the difference', 'charges')
  await page.getByRole('button', { name: 'Confirm and book it' }).click()
  await expect(page.getByText('Confirmed, with 1 entry for the difference.')).toBeVisible()
  expect(Number((await charges())[0]?.balance)).toBe(Number(before?.balance) + 250)
  await mark(page, /^Payout Brookpay day:2026-06-11 .*, confirmed$/).click()
  await expect(bar(page)).toContainText('to 60100')
  await page.keyboard.press('b')
  await expect(mark(page, /^Payout Brookpay day:2026-06-11 .*, possible$/)).toHaveCount(1)
  expect(await charges()).toEqual([before])
})

test('the gateway is proved to the cent, and every cause opens its documents', async ({ page }) => {
  await page.goto(`${workshop}/clearing/12300`)
  await expect(page.getByText('explained, but something is to be mended')).toBeVisible()
  const ladder = page.getByRole('table', { name: 'From the books to Brookpay' })
  for (const cause of ['blocked', 'proposed, not posted', 'tendered, never collected'])
    await ladder.getByRole('button', { name: cause }).click()
  await expect(ladder.getByRole('link', { name: 'brookpay:27 May 2026' })).toBeVisible()
  await ladder.getByRole('button', { name: /^order F-5770/ }).click()
  await expect(page.getByRole('dialog', { name: 'Trace' })).toContainText('F-5770')
  await page.goto(`${workshop}/clearing/12200`)
  await expect(page.getByRole('note')).toContainText('Fernstall reported nothing on 27 May 2026')
  // Days that are not posted come to nothing there, and are to be posted all the same.
  await expect(page.getByText('explained, but something is to be mended')).toBeVisible()
})

test('the payout that bounced is in, out and in again, and nothing of it is called certain', async ({ page }) => {
  await page.goto(`${workshop}/bank?around=2026-05-21`)
  for (const day of ['19', '21', '22'])
    await expect(mark(page, new RegExp(`^Payout Brookpay day:2026-05-${day} −?639\\.97.*, likely$`))).toHaveCount(1)
  await expect(mark(page, /^Bank line BROOKPAY RETURNED .*, likely$/)).toHaveCount(1)
  await page.goto(`${workshop}/clearing/12300`)
  const ladder = page.getByRole('table', { name: 'From the books to Brookpay' })
  // The cheque that somebody put there by hand: named, so that the account is not closed.
  await ladder.getByRole('button', { name: 'made by hand' }).click()
  await expect(ladder.getByRole('link', { name: /cheque of a customer/ })).toBeVisible()
})

test('the lost day’s report, found again, ties what was collected and unblocks the gateway’s day', async ({ page }) => {
  await page.goto(`${workshop}/settlements/brookpay/day%3A2026-05-27/CAD`)
  const blocks = page.getByRole('region', { name: 'What blocks it' })
  await expect(blocks).toContainText('27 May 2026')
  await page.goto(`${workshop}/sources/fernstall`)
  await page.getByLabel('Bring in files').setInputFiles(demoFile('fernstall-27-may.csv'))
  await expect(page.getByText(/fernstall-27-may.csv: \d+ rows new, 0 corrected, 0 known/)).toBeVisible({
    timeout: 20_000,
  })
  await page.goto(`${workshop}/payments`)
  await expect(oneSided(page)).toHaveCount(4)
  await page.goto(`${workshop}/settlements/brookpay/day%3A2026-05-27/CAD`)
  await expect(page.getByText('▨ proposed')).toBeVisible()
  await page.goto(`${workshop}/clearing/12200`)
  await expect(page.getByRole('note')).toHaveCount(0)
  // The same file again changes nothing.
  const lines = () => ask<{ count: number }>('SELECT count(*)::int AS count FROM activity_line')
  const before = await lines()
  await page.goto(`${workshop}/sources/fernstall`)
  await page.getByLabel('Bring in files').setInputFiles(demoFile('fernstall-27-may.csv'))
  await expect(page.getByText(/fernstall-27-may.csv: 0 rows new/)).toBeVisible({ timeout: 20_000 })
  expect(await lines()).toEqual(before)
})

test('opening balances are taken back and entered anew, and agree before they are posted', async ({
  page,
  request,
}) => {
  const { standing } = endpoints.opening.answer.parse(await answerOf(request, 2, endpoints.opening))
  const bank = () =>
    ask<{ held: number }>(
      "SELECT sum(amount)::int AS held FROM entry_line WHERE account = '10100' AND date = '2026-03-01'",
    )
  expect(await bank()).toEqual([{ held: 431_055 }])
  await page.goto(`${workshop}/books/opening`)
  await expect(page.getByText('as at 1 Mar 2026')).toBeVisible()
  await page.getByRole('button', { name: 'Take them back' }).click()
  await page.getByLabel('10100 Skerrymoor operating 0034, debit').fill('120,50')
  await page.getByLabel('30000 Owner’s equity, credit').fill('100')
  await expect(page.getByText('debits are higher by 20.50')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Post opening balances' })).toBeDisabled()
  await page.getByLabel('30000 Owner’s equity, credit').fill('120.50')
  await page.getByRole('button', { name: 'Post 1 entry dated 1 Mar 2026' }).click()
  await expect(page.getByText(/Posted as 2026-\d+/)).toBeVisible()
  expect(await bank()).toEqual([{ held: 12_050 }])
  // As it was: the demo goes on.
  await answerOf(request, 2, endpoints.undoOpening)
  await answerOf(request, 2, endpoints.postOpening, { data: { date: standing?.date, lines: standing?.lines } })
  expect(await bank()).toEqual([{ held: 431_055 }])
})
