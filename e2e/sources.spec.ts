import { addressOf, endpoints } from '@culvert/contract'
import { expect, test } from '@playwright/test'
import { askDatabase, client, demoFile, demoPath } from './books.ts'

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

test('a file can be dropped; of several where one is asked for none is taken', async ({ page }) => {
  const devtools = await page.context().newCDPSession(page)
  // What a script drops bears no files for the browser: it is told what a hand would drop.
  const drop = async (names: readonly string[]) => {
    const target = page.getByRole('application', { name: 'A place to drop files on' })
    await target.scrollIntoViewIfNeeded()
    const place = await target.boundingBox()
    if (!place) throw new Error('nowhere to drop')
    const data = { items: [], files: names.map(demoPath), dragOperationsMask: 1 }
    for (const type of ['dragEnter', 'dragOver', 'drop'] as const)
      await devtools.send('Input.dispatchDragEvent', { type, x: place.x + 12, y: place.y + 12, data })
  }
  await page.goto(`${client}/sources/openhall`)
  await drop(['openhall.settlements.csv'])
  await expect(page.getByText(/openhall.settlements.csv: 0 rows new, 0 corrected, 25 known already/)).toBeVisible()
  await page.goto(`${client}/bank`)
  await drop(['openhall.settlements.csv'])
  await expect(page.getByRole('alert')).toContainText('holds what a source reports: bring it in at its source')
  await page.goto(`${client}/books`)
  await drop(['openhall.settlements.csv', 'openhall.activity.csv'])
  await expect(page.getByRole('alert')).toContainText('One file at a time.')
})

test('a file that is known already adds nothing', async ({ page }) => {
  await page.goto(`${client}/sources/openhall`)
  await page.getByLabel('Bring in files').setInputFiles([demoFile('openhall.settlements.csv')])
  await expect(page.getByText(/openhall.settlements.csv: 0 rows new, 0 corrected, 25 known already/)).toBeVisible()
})

test('a file that was brought in by mistake is taken back and leaves nothing; one that is posted says what rests on it', async ({
  page,
}) => {
  const standing = () =>
    askDatabase<{ lines: number; settlements: number }>(
      'SELECT (SELECT count(*)::int FROM line_as_of WHERE stands) AS lines, (SELECT count(*)::int FROM settlement) AS settlements',
    )
  const before = await standing()
  await page.goto(`${client}/sources/openhall`)
  const rows = ['sale', 'shipping'].map(kind => `MIS-${kind},2026-06-20T10:00:00+01:00,${kind},EUR,12.00,OH-MISTAKE`)
  const text = ['line_id,occurred_at,kind,currency,amount,settlement_id', ...rows].join('\n')
  await page
    .getByLabel('Bring in files')
    .setInputFiles({ name: 'mistake.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await page.getByRole('button', { name: 'Take back mistake.csv' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('2 lines of 20 Jun 2026 go.')
  await expect(dialog).toContainText('Its lines come to EUR 24.00')
  await dialog.getByRole('button', { name: 'Take back 2 lines' }).click()
  await expect(page.getByText('mistake.csv is taken back.')).toBeVisible()
  await expect(page.getByRole('row', { name: /mistake.csv/ })).toContainText('taken back')
  expect(await standing()).toEqual(before)
  await page.getByRole('button', { name: 'Take back openhall.activity.csv' }).last().click()
  await expect(page.getByRole('dialog')).toContainText('Posted with it')
  await page.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  expect(await standing()).toEqual(before)
})

test('what changes things is only taken from our own pages', async ({ request }) => {
  const refused = await request.post(`/api${addressOf(endpoints.post, { client: 1 })}`, { data: { keys: [] } })
  expect(refused.status()).toBe(403)
  const foreign = await request.get(`/api${addressOf(endpoints.session, {})}`, {
    headers: { host: 'elsewhere.example' },
  })
  expect(foreign.status()).toBe(403)
  const nobody = await request.get(`/api${addressOf(endpoints.course, { client: 999 })}`)
  expect(nobody.status()).toBe(404)
})

test('how a source is booked is changed on its page, and what would touch every line is asked about', async ({
  page,
}) => {
  const stands = async () =>
    (
      await askDatabase<{ options: object; versions: number }>(
        `SELECT options, (SELECT count(*)::int FROM source_options) AS versions FROM source WHERE source = 'openhall'`,
      )
    )[0]
  const before = await stands()
  await page.goto(`${client}/sources/openhall`)
  await page.getByRole('link', { name: 'How it is booked' }).click()
  const save = page.getByRole('button', { name: /^Save/ })
  await expect(save).toBeDisabled()
  await expect(page.getByLabel('An entry for each month')).toBeDisabled()
  await page.getByLabel('Tax may differ by').fill('a lot')
  await page.getByRole('button', { name: 'Save 1 option' }).click()
  await expect(page.getByRole('alert')).toContainText('An amount in EUR')
  expect(await stands()).toEqual(before)
  await page.getByLabel('Tax may differ by').fill('')
  await page.getByLabel('The day that counts').selectOption('payment')
  await save.click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('the day of payment is not known of them')
  await dialog.getByRole('button', { name: 'Keep them as they are' }).click()
  expect(await stands()).toEqual(before)
  await page.getByRole('button', { name: 'Discard' }).click()
  // A cut-off of its own is shown with what it does too; the first day moves over nothing that is posted.
  await page.getByLabel('Its trading day ends at').fill('04:30')
  await save.click()
  await expect(dialog).toContainText('will count on another day')
  await dialog.getByRole('button', { name: 'Keep them as they are' }).click()
  await page.getByRole('button', { name: 'Discard' }).click()
  await page.getByLabel('Booked here from').fill('1 Jun 2026')
  await save.click()
  await expect(page.getByText(/Take them back first/)).toBeVisible()
  expect(await stands()).toEqual(before)
  await page.getByRole('button', { name: 'Discard' }).click()
  await page.getByLabel('Stock bought is owed on').selectOption('2400')
  await page.getByRole('button', { name: 'Save 1 option' }).click()
  await expect(page.getByText(/Saved as version \d+ of the map/)).toBeVisible()
  expect(await stands()).toMatchObject({ options: { stockPayable: '2400', dateBasis: 'order' } })
  await page.getByLabel('Stock bought is owed on').selectOption('')
  await page.getByRole('button', { name: 'Save 1 option' }).click()
  await expect.poll(stands).toMatchObject({ options: { stockPayable: null }, versions: (before?.versions ?? 0) + 2 })
  await expect(save).toBeDisabled()
})
