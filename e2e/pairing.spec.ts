import { expect, type Page, test } from '@playwright/test'
import { askDatabase, chooseAccount, client } from './books.ts'

test.describe.configure({ mode: 'serial' })

const mark = (page: Page, name: RegExp) => page.getByRole('button', { name })
const bar = (page: Page) => page.getByRole('region', { name: 'What can be done' })

/** What must be the same once everything is undone: balances, what is open, what is tied. */
const standing = () =>
  Promise.all([
    askDatabase('SELECT account, sum(debit - credit)::text AS balance FROM account_total GROUP BY 1 ORDER BY 1'),
    askDatabase('SELECT line_id FROM open_bank_line ORDER BY 1'),
    askDatabase('SELECT source, payout_line FROM transfer WHERE NOT paired AND NOT reversed ORDER BY 1, 2'),
  ])
let before: Awaited<ReturnType<typeof standing>>

test('a bank line that is no payout is coded to an account, its tax taken out, and traced', async ({ page }) => {
  before = await standing()
  await page.goto(`${client}/bank?around=2026-06-12`)
  await mark(page, /^Bank line CARD CLAY SUPPLY .*, alone$/).click()
  await page.keyboard.press('c')
  await chooseAccount(page, 'Account of the bank line', 'fees')
  await page.getByLabel('Tax code of the bank line').selectOption('P23')
  await page.getByLabel('What it was for').fill('clay, June')
  await page.getByRole('button', { name: 'Book −212.40' }).click()
  await expect(page.getByText(/Booked to \d+\. It can be taken apart again\./)).toBeVisible()
  const [entry] = await askDatabase<{ number: string; lines: { account: string; amount: number }[] }>(
    `SELECT p.fiscal_year || '-' || p.number AS number, (SELECT json_agg(json_build_object('account', l.account, 'amount', l.amount)
      ORDER BY l.line_no) FROM entry_line l WHERE l.fiscal_year = p.fiscal_year AND l.number = p.number) AS lines
     FROM pairing p WHERE p.sort = 'coded' AND p.undone_by IS NULL ORDER BY p.fiscal_year DESC, p.number DESC LIMIT 1`,
  )
  // 212.40 with 23 % in it: 172.68 and 39.72.
  expect(entry?.lines.map(line => line.amount).sort((left, right) => left - right)).toEqual([-21_240, 3972, 17_268])
  await mark(page, /^Bank line CARD CLAY SUPPLY .*, coded$/).click()
  await expect(bar(page)).toContainText(`entry ${entry?.number}`)
  await page.keyboard.press('t')
  await expect(page.getByText('Bank line coded to an account')).toBeVisible()
  await page.keyboard.press('Escape')
  await mark(page, /^Bank line CARD CLAY SUPPLY .*, coded$/).click()
  await bar(page).getByRole('button', { name: 'Take apart' }).click()
  await expect(page.getByText(/is reversed and what it tied is open again/)).toBeVisible()
  await expect(mark(page, /^Bank line CARD CLAY SUPPLY .*, alone$/)).toBeVisible()
})

test('what is none of the client’s is set aside with a reason, and taken up again', async ({ page }) => {
  await page.goto(`${client}/bank?around=2026-06-18`)
  await mark(page, /^Bank line TRANSFER M. ROWANTREE .*, alone$/).click()
  await page.keyboard.press('s')
  await page.getByLabel(/^Why it is left out/).fill('a private transfer')
  await page.getByRole('button', { name: 'Set aside', exact: true }).last().click()
  await expect(page.getByText('Set 1 aside.')).toBeVisible()
  await mark(page, /^Bank line TRANSFER M. ROWANTREE .*, set aside$/).click()
  await expect(bar(page)).toContainText('a private transfer')
  await page.keyboard.press('b')
  await expect(page.getByText('Taken up again.')).toBeVisible()
})

test('members are picked by keys, and what lies between the sides is booked', async ({ page }) => {
  await page.goto(`${client}/bank?around=2026-06-14`)
  await mark(page, /^Payout Openhall OH-2623 .*, confirmed$/).click()
  await page.keyboard.press('b')
  await expect(page.getByText(/Taken apart/)).toBeVisible()
  // Its own deposit and the clay: 212.40 too little. Open again once the page has been asked anew.
  await mark(page, /^Payout Openhall OH-2623 .*, certain$/).click()
  await page.keyboard.press('Space')
  await page.keyboard.press('l')
  await page.keyboard.press('Space')
  await expect(bar(page)).toContainText('both sides agree to the cent')
  await mark(page, /^Bank line CARD CLAY SUPPLY /).focus()
  await mark(page, /^Bank line CARD CLAY SUPPLY /).click()
  await page.keyboard.press('Space')
  await expect(bar(page)).toContainText('1 payout')
  await expect(bar(page)).toContainText('2 bank lines')
  await expect(bar(page)).toContainText('difference −212.40')
  await expect(page.getByRole('button', { name: 'Pair and book it' })).toBeDisabled()
  await chooseAccount(page, 'Account of the difference', 'fees')
  await page.getByRole('button', { name: 'Pair and book it' }).click()
  await expect(page.getByText('Confirmed, with 1 entry for the difference.')).toBeVisible()
  const [pairing] = await askDatabase<{ sureness: string; difference: string }>(
    'SELECT sureness, difference FROM pairing WHERE undone_by IS NULL AND number IS NOT NULL ORDER BY fiscal_year DESC, number DESC LIMIT 1',
  )
  expect(pairing).toEqual({ sureness: 'by_hand', difference: '-21240' })
  await mark(page, /^Payout Openhall OH-2623 .*, confirmed$/).click()
  await expect(bar(page)).toContainText('confirmed, chosen by hand')
  await page.keyboard.press('b')
  await expect(page.getByText(/is reversed and what it tied is open again/)).toBeVisible()
  await mark(page, /^Payout Openhall OH-2623 .*, certain$/).click()
  await page.keyboard.press('p')
  await expect(mark(page, /^Payout Openhall OH-2623 .*, confirmed$/)).toBeVisible()
})

test('all of it left no trace in what is open, tied and booked', async () => {
  expect(await standing()).toEqual(before)
})

test('a balance that somebody stated is proved, and a wrong one is led back', async ({ page }) => {
  await page.goto(`${client}/clearing/2400?currency=EUR&date=2026-06-30`)
  await expect(page.getByText('Nobody has stated this balance')).toBeVisible()
  await page.getByLabel(/^Stated at 30 Jun 2026/).fill('0.00')
  await page.getByRole('button', { name: 'Hold the books against it' }).click()
  await expect(page.getByText('closed: nothing unexplained')).toBeVisible()
  await page.getByLabel(/^Stated at 30 Jun 2026/).fill('-150.00')
  await page.getByRole('button', { name: 'Hold the books against it' }).click()
  await expect(page.getByRole('table', { name: 'Where it may come from' })).toBeVisible()
  await page.getByRole('button', { name: 'Take it away' }).click()
  await expect(page.getByText('Nobody has stated this balance')).toBeVisible()
})
