import { type Endpoint, endpoints, routeBody } from '@culvert/contract'
import { expect, test } from '@playwright/test'
import { answerOf } from './asking.ts'

// What is too large to wait for, in books of its own: files of megabytes, hundreds of settlements at once.

let client = 0

test.beforeAll(async ({ playwright, baseURL }) => {
  const context = await playwright.request.newContext({ baseURL: baseURL ?? '' })
  const ask = (endpoint: Endpoint, data: unknown = {}) => answerOf(context, client, endpoint, { data })
  const books = {
    name: 'Larkwool Yarns',
    base: 'EUR',
    timeZone: 'Europe/Dublin',
    locale: 'en-IE',
    exchangeRounding: '7900',
  }
  client = ((await ask(endpoints.addClient, books)) as { clientId: number }).clientId
  await ask(endpoints.addAccounts, [
    { code: '1000', name: 'Skerrymoor current account', type: 'bank', currency: 'EUR', bankNumber: 'IE00LARKWOOL' },
    { code: '1210', name: 'Openhall clearing', type: 'clearing', currency: 'EUR' },
    { code: '4000', name: 'Sales', type: 'income', currency: 'EUR' },
    { code: '7900', name: 'Exchange rounding', type: 'other_income', currency: 'EUR' },
  ])
  await ask(endpoints.addSource, {
    source: 'openhall',
    name: 'Openhall',
    shape: 'combined',
    clearing: [{ currency: 'EUR', account: '1210' }],
    banks: [{ direction: 'into', currency: 'EUR', account: '1000' }],
  })
  const version = async () => ((await ask(endpoints.items)) as { version: number }).version
  await ask(endpoints.saveTaxGrid, {
    rows: [{ code: null }],
    classes: [],
    byRows: true,
    version: await version(),
  })
  await ask(endpoints.saveRoutes, {
    version: await version(),
    changed: [routeBody.parse({ routeId: null, kind: 'sale', account: '4000', taxCode: null })],
    removed: [],
  })
})

/** Settlements of `lines` sales and their payout each: amounts of their own, so that none looks like another’s double. */
const activity = (name: string, settlements: number, lines: number) => {
  const rows = ['line_id,settlement_id,occurred_at,kind,order_id,description,currency,amount']
  for (let one = 0; one < settlements; one++) {
    const day = `2026-05-${String(1 + (one % 28)).padStart(2, '0')}`
    let sum = 0
    for (let line = 0; line < lines; line++) {
      const cents = 1000 + one * 7 + line
      sum += cents
      rows.push(
        `${name}${one}-${line},${name}-${one},${day}T10:00:00Z,sale,${name}${one}-${line},Four balls of fine yarn,EUR,${(cents / 100).toFixed(2)}`,
      )
    }
    rows.push(`${name}${one}-p,${name}-${one},${day}T21:00:00Z,payout,,,EUR,${(-sum / 100).toFixed(2)}`)
  }
  return { name: `${name}.csv`, mimeType: 'text/csv', buffer: Buffer.from(`${rows.join('\n')}\n`) }
}

test('a large file is read as a job, which goes on when the page is left', async ({ page }) => {
  await page.goto(`/c/${client}/sources/openhall`)
  await page.getByLabel('Bring in files').setInputFiles(activity('May', 300, 110))
  await expect(page.getByRole('banner').getByRole('progressbar', { name: 'File' })).toBeVisible()
  await page
    .getByRole('link', { name: /^Settlements/ })
    .first()
    .click()
  await expect(page.getByText('May.csv: 33,300 rows new, 0 corrected, 0 known already.')).toBeVisible({
    timeout: 90_000,
  })
  await expect(page.getByRole('link', { name: 'Proposed 300' })).toBeVisible()
})

test('one that is stopped leaves nothing', async ({ page }) => {
  await page.goto(`/c/${client}/sources/openhall`)
  await page.getByLabel('Bring in files').setInputFiles(activity('Stopped', 600, 120))
  await page.getByRole('banner').getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByText('Stopped. Nothing was done.')).toBeVisible({ timeout: 60_000 })
  await page
    .getByRole('link', { name: /^Settlements/ })
    .first()
    .click()
  await expect(page.getByRole('link', { name: 'All 300' })).toBeVisible()
})

test('hundreds are posted and taken back as jobs, and the log tells what came of each', async ({ page }) => {
  await page.goto(`/c/${client}/settlements?state=proposed`)
  await page.getByRole('button', { name: 'Post 300 settlements' }).click()
  await expect(page.getByRole('dialog')).toContainText('Posts 300 settlements dated')
  await page.getByRole('dialog').getByRole('button', { name: 'Post 300 settlements' }).click()
  await expect(page.getByText('Posted 300 settlements, 600 entries.')).toBeVisible({ timeout: 90_000 })
  await page.getByRole('link', { name: 'Posted 300' }).click()
  await page.getByRole('checkbox').first().check()
  await page.getByRole('button', { name: 'Take back 300' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Take back 300 settlements' }).click()
  await expect(page.getByText('Took back 300 settlements by 600 reversals.')).toBeVisible({ timeout: 90_000 })
  await page.getByRole('banner').getByRole('link', { name: 'Jobs' }).click()
  const log = page.getByRole('table', { name: 'Jobs' })
  await expect(log.getByRole('row').nth(1)).toContainText(/Taking back.*done.*300 of 300/)
  await log.getByRole('row').nth(2).getByRole('button', { name: 'What came of it' }).click()
  await expect(page.getByText('Posted 300 settlements, 600 entries.')).toBeVisible()
})

test('another day that counts is a job where it touches many lines', async ({ page }) => {
  await page.goto(`/c/${client}/sources/openhall/options`)
  await page.getByLabel('The day that counts').selectOption('payment')
  await page.getByRole('button', { name: 'Save 1 option' }).click()
  await page.getByRole('button', { name: 'Save and count 33,300 lines anew' }).click()
  await expect(page).toHaveURL(/sources\/openhall$/)
  // The address is there before the page: a press would meet the link of the page that is being left.
  await expect(page.getByLabel('The day that counts')).toHaveCount(0)
  await page.getByRole('link', { name: 'How it is booked' }).click()
  await expect(page.getByText(/Saved as version \d+ of the map\. 33,300 lines counted anew\./)).toBeVisible({
    timeout: 90_000,
  })
  await expect(page.getByLabel('The day that counts')).toHaveValue('payment')
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled()
})
