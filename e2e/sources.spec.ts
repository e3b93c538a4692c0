import { expect, test } from '@playwright/test'
import { askDatabase, client, demoFile } from './books.ts'

test('a broken file is refused whole, with row, column, value and what was expected', async ({ page }) => {
  const count = () => askDatabase<{ lines: number }>('SELECT count(*)::int AS lines FROM activity_line')
  const before = await count()
  await page.goto(`${client}/sources/openhall`)
  const file = demoFile('openhall.activity.csv')
  const lines = file.buffer.toString('utf8').split('\n')
  lines[5] = (lines[5] ?? '').replace(/[\d.-]+$/, '12.345')
  lines[8] = (lines[8] ?? '').replace(/,(sale|selling_fee|shipping|discount),/, ',sold,')
  await page.getByLabel('Bring in files').setInputFiles({ ...file, buffer: Buffer.from(lines.join('\n')) })
  await expect(page.getByRole('alert')).toContainText('2 faults')
  const faults = page.getByRole('table', { name: 'Faults of the file' })
  await expect(faults.getByRole('row').nth(1)).toContainText('amount12.345no more decimals than the currency has')
  await expect(faults.getByRole('row').nth(2)).toContainText('kindsold')
  expect(await count()).toEqual(before)
})

test('a file that is known already adds nothing', async ({ page }) => {
  await page.goto(`${client}/sources/openhall`)
  await page.getByLabel('Bring in files').setInputFiles([demoFile('openhall.settlements.csv')])
  await expect(page.getByText(/openhall.settlements.csv: 0 rows new, 0 corrected, 25 known already/)).toBeVisible()
})

test('what changes things is only taken from our own pages', async ({ request }) => {
  const refused = await request.post(`/api/clients/1/settlements/post`, { data: { keys: [] } })
  expect(refused.status()).toBe(403)
  const foreign = await request.get('/api/session', { headers: { host: 'elsewhere.example' } })
  expect(foreign.status()).toBe(403)
  const nobody = await request.get('/api/clients/999/course')
  expect(nobody.status()).toBe(404)
})
