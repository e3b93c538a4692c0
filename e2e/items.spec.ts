import { expect, test } from '@playwright/test'
import { askDatabase, client, goTo } from './books.ts'

test.describe.configure({ mode: 'serial' })

test('a product that no item stands for is told once, known from then on, and forgotten again', async ({ page }) => {
  await page.goto(`${client}/settlements`)
  await goTo(page, 'Mapping')
  await page.getByRole('link', { name: 'Items' }).click()
  const products = page.getByRole('table', { name: 'Products sold' })
  const book = products.getByRole('row', { name: /Openhall BOOK-2/ })
  await expect(products.getByRole('row', { name: /Openhall MUG-W/ })).toContainText('10-441 by its title')
  await expect(book).toContainText('no item found')
  await book.getByRole('combobox', { name: 'Item of BOOK-2' }).selectOption('BOOK-1')
  await expect(page.getByText('BOOK-2 is BOOK-1 from now on.')).toBeVisible()
  await expect(book).toContainText('BOOK-1 by a known name')
  await expect(page.getByRole('table', { name: 'Items' }).getByRole('row', { name: /^BOOK-1/ })).toContainText('BOOK-2')
  await book.getByRole('button', { name: 'Forget' }).click()
  await expect(page.getByText('BOOK-2 is forgotten.')).toBeVisible()
  await expect(book).toContainText('no item found')
})

test('a product is routed to its item with the tax it had, and its route is taken off again', async ({ page }) => {
  const drafts = () =>
    askDatabase('SELECT source, key, state, tax::text, blocks FROM settlement WHERE client_id = 1 ORDER BY source, key')
  const before = await drafts()
  await page.goto(`${client}/mapping/items`)
  // What acts on many asks first, with count and money.
  await page.getByRole('button', { name: 'Route 36 to their items' }).click()
  await expect(page.getByRole('dialog')).toContainText(/Sales of [\d,.]+ EUR in the weeks shown/)
  await expect(page.getByRole('dialog').getByRole('button', { name: /^Save \d+ routes$/ })).toBeEnabled()
  await page.getByRole('button', { name: 'Cancel' }).click()
  const mug = page.getByRole('table', { name: 'Products sold' }).getByRole('row', { name: /Openhall MUG-W/ })
  await mug.getByRole('button', { name: 'Route to the item' }).click()
  await expect(page.getByText('Saved 1 route. Their tax stays as it was.')).toBeVisible()
  await expect(mug.getByRole('button', { name: 'Take its route off' })).toBeVisible()
  // What waits to be posted bears the same tax as before, to the cent.
  expect(await drafts()).toEqual(before)
  await mug.getByRole('button', { name: 'Take its route off' }).click()
  await expect(page.getByText('MUG-W has no route of its own any more')).toBeVisible()
  await expect(mug.getByRole('button', { name: 'Route to the item' })).toBeVisible()
  expect(await drafts()).toEqual(before)
})
