import { expect, test } from '@playwright/test'
import { client } from './books.ts'

test('the course is walked by number', async ({ page }) => {
  await page.goto(`${client}/settlements`)
  await expect(page.locator('h1')).toHaveText('Settlements')
  for (const [key, title] of [
    ['1', 'Sources'],
    ['2', 'Openhall'],
    ['4', 'Tie-out'],
    ['5', 'Clearing accounts'],
    ['6', 'Skerrymoor current account 4471'],
    ['7', 'Chart of accounts'],
    ['8', 'Close'],
    ['3', 'Settlements'],
  ] as const) {
    await page.keyboard.press(key)
    await expect(page.locator('h1')).toHaveText(title)
  }
})

test('rows are walked, selected, traced and opened by key', async ({ page }) => {
  await page.goto(`${client}/settlements`)
  await page.getByRole('row').nth(3).waitFor()
  await page.keyboard.press('j')
  await page.keyboard.press('j')
  await page.keyboard.press('Space')
  await expect(page.getByRole('row').nth(2)).toHaveAttribute('aria-selected', 'true')
  await page.keyboard.press('t')
  await expect(page.getByRole('dialog', { name: 'Trace' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog', { name: 'Trace' })).toHaveCount(0)
  await page.keyboard.press('k')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/settlements\/[a-z]+\/(OH-26|day%3A2026-06)/)
})

test('filter and sorting stay in the address', async ({ page }) => {
  await page.goto(`${client}/settlements`)
  await page.getByRole('row').nth(3).waitFor()
  // What draws the table hears keys a moment later than it is seen.
  await expect(async () => {
    await page.keyboard.press('/')
    await expect(page.getByRole('textbox', { name: 'Filter Settlements' })).toBeFocused({ timeout: 500 })
  }).toPass()
  await page.keyboard.type('OH-261')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('row')).toHaveCount(11)
  await page.getByRole('button', { name: 'Gross' }).click()
  await page.reload()
  await expect(page.getByRole('row')).toHaveCount(11)
  const gross = await page.locator('tbody tr td:nth-child(8)').allTextContents()
  const amounts = gross.map(text => Number(text.replace(/,/g, '')))
  expect(amounts).toEqual([...amounts].sort((left, right) => left - right))
})

test('? shows the keys, and amounts are found', async ({ page }) => {
  await page.goto(`${client}/settlements?q=OH-26`)
  await page.getByRole('row').nth(3).waitFor()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys of this page' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  const payout = (await page.locator('tbody tr').last().locator('td:nth-child(11)').textContent()) ?? ''
  await page.keyboard.press('Control+k')
  await page.keyboard.type(payout)
  await expect(page.getByRole('option', { name: /bank line/ }).first()).toBeVisible()
})

test('a settlement goes on along the list that it was opened from', async ({ page }) => {
  await page.goto(`${client}/settlements?sort=-gross`)
  const rows = page.getByRole('table', { name: 'Settlements' }).locator('tbody').getByRole('row')
  await expect(rows.nth(2)).toBeVisible()
  const names = await rows.getByRole('link').allTextContents()
  await rows.first().getByRole('link').click()
  await expect(page.getByRole('heading', { name: names[0] ?? '' })).toBeVisible()
  await page.keyboard.press('j')
  await expect(page.getByRole('heading', { name: names[1] ?? '' })).toBeVisible()
  await expect(page.getByText(/2 of \d+/)).toBeVisible()
  await page.keyboard.press('k')
  await expect(page.getByRole('heading', { name: names[0] ?? '' })).toBeVisible()
})

test('what is changed and not saved is asked about before its page is left', async ({ page }) => {
  await page.goto(`${client}/sources/openhall/options`)
  await page.getByLabel('Tax may differ by').fill('0.50+0.25')
  await page
    .getByRole('link', { name: /^Books/ })
    .first()
    .click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Changed and not saved: how Openhall is booked.')
  await dialog.getByRole('button', { name: 'Stay' }).click()
  await expect(page.getByLabel('Tax may differ by')).toHaveValue('0.50+0.25')
  await page
    .getByRole('link', { name: /^Books/ })
    .first()
    .click()
  await dialog.getByRole('button', { name: 'Discard and leave' }).click()
  await expect(page.getByRole('heading', { name: 'Chart of accounts' })).toBeVisible()
})
