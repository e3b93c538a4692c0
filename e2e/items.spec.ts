import { expect, test } from '@playwright/test'
import { client, goTo } from './books.ts'

test.describe.configure({ mode: 'serial' })

test('a product that no item stands for is told once, known from then on, and forgotten again', async ({ page }) => {
  await page.goto(`${client}/settlements`)
  await goTo(page, 'Mapping')
  await page.getByRole('link', { name: 'Items' }).click()
  const products = page.getByRole('table', { name: 'Products sold' })
  const book = products.getByRole('row', { name: /BOOK-2/ })
  await expect(products.getByRole('row', { name: /MUG-W/ })).toContainText('10-441 by its title')
  await expect(book).toContainText('no item found')
  await book.getByRole('combobox', { name: 'Item of BOOK-2' }).selectOption('BOOK-1')
  await expect(page.getByText('BOOK-2 is BOOK-1 from now on.')).toBeVisible()
  await expect(book).toContainText('BOOK-1 by a known name')
  await expect(page.getByRole('table', { name: 'Items' }).getByRole('row', { name: /^BOOK-1/ })).toContainText('BOOK-2')
  await book.getByRole('button', { name: 'Forget' }).click()
  await expect(page.getByText('BOOK-2 is forgotten.')).toBeVisible()
  await expect(book).toContainText('no item found')
})
