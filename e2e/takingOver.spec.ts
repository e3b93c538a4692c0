import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page, test } from '@playwright/test'

const sound = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(one => `${one.id} ${one.nodes[0]?.html}`)).toEqual([])
}
const stage = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Course' }).getByRole('link', { name: new RegExp(`^${name}`) })
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name })

test('books are taken over: a ledger is linked by consent, and its lists come over one by one', async ({ page }) => {
  await page.goto('/')
  await button(page, 'Add a client').click()
  await page.getByLabel('Name', { exact: true }).fill('Larkwool Fleece')
  await page.getByLabel('Country').selectOption('US')
  await button(page, 'Take on').click()
  await page.getByRole('region', { name: 'A chart to begin with' }).getByRole('button').click()
  await expect(page.getByRole('table', { name: 'Chart of accounts' })).toBeVisible()
  await stage(page, 'Sources').click()
  await button(page, 'Connect Tarnbook').click()
  await button(page, 'Grant access').click()
  await expect(page.getByRole('heading', { name: 'Choose the company at Tarnbook' })).toBeVisible()
  await sound(page)
  await button(page, 'Link Larkwool Yarns').click()
  await expect(page.getByRole('heading', { name: 'Chart of accounts' })).toBeVisible()
  await button(page, 'From Tarnbook').click()
  await button(page, 'Take 3 new accounts').click()
  await expect(page.getByRole('table', { name: 'Chart of accounts' })).toContainText('Fleece on credit')
  // The same list again changes nothing.
  await button(page, 'From Tarnbook').click()
  await expect(page.getByRole('dialog')).toContainText('changes nothing')
  await button(page, 'Cancel').click()

  // The chart has a button of this name too, and stands until the page of contacts has come.
  await page.getByRole('link', { name: 'Contacts' }).click()
  await expect(page.getByRole('heading', { name: 'Contacts', exact: true })).toBeVisible()
  await button(page, 'From Tarnbook').click()
  await button(page, 'Take 3 contacts').click()
  await expect(page.getByRole('table', { name: 'Contacts' })).toContainText('Fernley Fleece Farm')
  await page.getByRole('link', { name: 'Open invoices and bills' }).click()
  await expect(page.getByRole('heading', { name: 'Open invoices and bills', exact: true })).toBeVisible()
  await button(page, 'Invoices from Tarnbook').click()
  await button(page, 'Take 2 items').click()
  await button(page, 'Bills from Tarnbook').click()
  await button(page, 'Take 1 item').click()
  const items = page.getByRole('table', { name: 'Open invoices and bills' })
  await expect(items).toContainText('Harbour Knit Guild')
  await expect(items).toContainText('F-88')
  await expect(page.getByText('apart')).toHaveCount(2)
  await sound(page)

  await page.getByRole('link', { name: 'Opening balances' }).first().click()
  await expect(page.getByRole('heading', { name: 'Opening balances' })).toBeVisible()
  await page.getByRole('button', { name: 'From Tarnbook', exact: true }).click()
  await button(page, 'Fill in 2 balances').click()
  await page.getByLabel('As at').fill('31 Dec 2025')
  await button(page, 'Post 1 entry dated 31 Dec 2025').click()
  await expect(page.getByText(/^.*Posted as/)).toBeVisible()
  await page.getByRole('link', { name: 'Open invoices and bills' }).click()
  await expect(page.getByText('they agree')).toHaveCount(2)
})

const activity = `line_id,settlement_id,occurred_at,kind,currency,amount
j1,JAN,2026-01-20T10:00:00Z,sale,USD,100.00
j2,JAN,2026-01-21T10:00:00Z,selling_fee,USD,-10.00
j3,JAN,2026-01-28T10:00:00Z,payout,USD,-90.00
f1,FEB,2026-02-10T10:00:00Z,sale,USD,50.00
f2,FEB,2026-02-11T10:00:00Z,selling_fee,USD,-5.00
`
const balances = `source,currency,at,available
fleece-market,USD,2026-01-31,0.00
fleece-market,USD,2026-02-28,45.00
`

test('what ended before a source’s first day is booked elsewhere, and its opening balance is proved', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Larkwool Fleece' }).first().click()
  await stage(page, 'Sources').click()
  await button(page, 'Add a marketplace by file').click()
  await page.getByLabel('Name', { exact: true }).fill('Fleece Market')
  await page.getByLabel(/^Booked here from/).fill('1 Feb 2026')
  await button(page, 'Add source').click()
  await expect(page.getByRole('heading', { name: 'Fleece Market' })).toBeVisible()
  const bring = async (name: string, text: string) => {
    await page
      .locator('input[type=file]')
      .first()
      .setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
    await expect(page.getByText(new RegExp(`${name}: \\d+ rows? new`))).toBeVisible()
  }
  await bring('activity.csv', activity)
  const held = page.getByRole('table', { name: 'Opening balances' })
  await expect(page.getByRole('heading', { name: 'Booked elsewhere to 31 Jan 2026' })).toBeVisible()
  await expect(held).toContainText('not known')
  await bring('balances.csv', balances)
  await expect(held).toContainText('closed')
  await sound(page)
  await page.getByRole('link', { name: '1 settlement' }).click()
  await expect(page.getByRole('table', { name: 'Settlements' }).getByRole('row', { name: /JAN/ })).toContainText(
    'booked elsewhere',
  )
  await page.getByRole('link', { name: /^Blocked/ }).click()
  await expect(page.getByRole('table', { name: 'Settlements' }).getByRole('row', { name: /FEB/ })).toBeVisible()
  await expect(page.getByRole('table', { name: 'Settlements' }).getByRole('row', { name: /JAN/ })).toHaveCount(0)
  // What documents will name can be made ready, and need not.
  await stage(page, 'Mapping').click()
  await page.getByRole('link', { name: 'What is missing' }).click()
  await button(page, 'Show 1 contact').click()
  await expect(page.getByRole('table', { name: 'Contacts and items that are missing' })).toContainText('Fleece Market')
  await sound(page)
  await button(page, 'Take 1 contact').click()
  await expect(button(page, 'Show 1 contact')).toHaveCount(0)
})
