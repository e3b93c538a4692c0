import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page, test } from '@playwright/test'
import { client } from './books.ts'

const pages = [
  '/',
  '/programs',
  '/people',
  '/account',
  '/password',
  '/question',
  `${client}/sources`,
  `${client}/sources/openhall`,
  `${client}/sources/openhall/options`,
  `${client}/mapping`,
  `${client}/mapping/tax`,
  `${client}/mapping/tax/codes`,
  `${client}/mapping/tax/check`,
  `${client}/mapping/rules`,
  `${client}/mapping/items`,
  `${client}/mapping/openhall/starter`,
  `${client}/settlements`,
  `${client}/settlements/openhall/OH-2620/EUR`,
  `${client}/settlements/openhall/OH-2624/EUR`,
  `${client}/payments`,
  `${client}/payments/decided`,
  `${client}/payments/disputes`,
  `${client}/clearing`,
  `${client}/clearing/1210`,
  `${client}/clearing/1300?currency=EUR`,
  `${client}/bank`,
  `${client}/bank/accounts`,
  `${client}/bank/1000/proof`,
  `${client}/settings`,
  `${client}/files/source/openhall`,
  `${client}/books`,
  `${client}/books/entries`,
  `${client}/books/entries/2026-1`,
  `${client}/books/register/1210`,
  `${client}/books/rates`,
  `${client}/books/opening`,
  `${client}/close`,
  `${client}/jobs`,
  `${client}/acts`,
  `${client}/asked`,
  `${client}/sources/customers`,
  '/c/2/sources',
  '/c/2/mapping',
  '/c/2/settlements',
  '/c/2/payments',
  '/c/2/bank',
  '/c/2/books',
  '/c/2/clearing/12200',
  '/c/2/clearing/12300',
  '/c/2/close',
]

const rulesOf = { light: (axe: AxeBuilder) => axe, dark: (axe: AxeBuilder) => axe.withRules(['color-contrast']) }

/** Changes the theme as another tab would: the page stays as it is. */
const turn = (page: Page, theme: string) =>
  page.evaluate(wanted => {
    window.dispatchEvent(new StorageEvent('storage', { key: 'theme', newValue: wanted }))
  }, theme)

/** What is wrong on some of the pages, one after another; what is dark differs in colours alone. */
const violationsOn = async (page: Page, paths: readonly string[]): Promise<string[]> => {
  const found: string[] = []
  for (const path of paths) {
    await page.goto(path)
    await page.locator('main').waitFor()
    await page.waitForLoadState('networkidle')
    for (const theme of ['light', 'dark'] as const) {
      await turn(page, theme)
      await expect(page.locator('html')).toHaveClass(new RegExp(theme))
      // What passes is not told: that takes longer than finding what does not.
      const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'] })
      const { violations } = await rulesOf[theme](axe).analyze()
      for (const one of violations.filter(({ impact }) => impact === 'serious' || impact === 'critical'))
        found.push(
          `${path}, ${theme}: ${one.id} ${one.nodes
            .slice(0, 3)
            .map(node => node.html.slice(0, 160))
            .join(' | ')}`,
        )
    }
  }
  return found
}

test('no serious violation on any page, light or dark', async ({ context }) => {
  // Each read whole, two at a time: minutes on a busy machine.
  test.setTimeout(900_000)
  const halves = [0, 1].map(half => pages.filter((_, at) => at % 2 === half))
  const found = await Promise.all(halves.map(async half => violationsOn(await context.newPage(), half)))
  expect(found.flat()).toEqual([])
})

test('the trace panel has none either', async ({ page }) => {
  await page.goto(`${client}/settlements/openhall/OH-2620/EUR`)
  await page
    .getByRole('button', { name: /^Trace/ })
    .first()
    .click()
  await page.getByRole('dialog', { name: 'Trace' }).getByText('you are here').waitFor()
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.filter(one => one.impact === 'serious' || one.impact === 'critical').map(one => one.id)).toEqual([])
})

test('nothing overflows at 1024 wide', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 768 })
  for (const path of [
    `${client}/sources`,
    `${client}/mapping`,
    `${client}/settlements`,
    `${client}/clearing/1210`,
    `${client}/clearing/1300?currency=EUR`,
    `${client}/books`,
    `${client}/close`,
    `${client}/jobs`,
    '/c/2/payments',
    '/c/2/bank',
    '/c/2/clearing/12300',
  ]) {
    await page.goto(path)
    await page.locator('main').waitFor()
    await page.waitForLoadState('networkidle')
    const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
    expect(over, path).toBeLessThanOrEqual(0)
  }
})

test('nothing overflows on a phone, where one reads, approves and confirms', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  for (const path of [
    '/',
    `${client}/settlements`,
    `${client}/settlements/openhall/OH-2620/EUR`,
    `${client}/clearing`,
    `${client}/clearing/1210`,
    `${client}/books`,
    `${client}/books/entries/2026-1`,
    `${client}/close`,
    `${client}/bank`,
    '/c/2/payments',
    '/c/2/payments/decided',
  ]) {
    await page.goto(path)
    await page.locator('main').waitFor()
    await page.waitForLoadState('networkidle')
    const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
    expect(over, path).toBeLessThanOrEqual(0)
  }
  // The one main action is within reach.
  await page.goto(`${client}/settlements?state=proposed`)
  const post = page.getByRole('button', { name: /^Post \d* settlements?/ })
  await expect(post).toBeInViewport()
})
