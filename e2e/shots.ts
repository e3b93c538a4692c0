import { mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Browser, chromium as engine, type Page } from '@playwright/test'
import { chromium } from './browser.ts'
import { base, keepOrla } from './signIn.ts'

/** Makes the pictures of the main views from the demo's data, in the order of a bookkeeper's afternoon. */
const folder = 'docs/screenshots'
const storageState = await keepOrla()
const client = `${base}/c/1`
mkdirSync(folder, { recursive: true })

const settled = async (page: Page): Promise<void> => {
  await page.waitForLoadState('networkidle')
  await page.evaluate(() => document.fonts.ready)
  await page.waitForTimeout(400)
}
const shot = async (page: Page, name: string): Promise<void> => {
  await settled(page)
  await page.screenshot({ path: join(folder, `${name}.png`) })
}
const workshop = `${base}/c/2`
/** A client that is being set up. */
const yarns = `${base}/c/3`
const open = async (page: Page, path: string, of = client): Promise<void> => {
  await page.goto(`${of}${path}`)
  await page.locator('main').waitFor()
  await settled(page)
}

const afternoon = async (browser: Browser): Promise<void> => {
  const page = await browser.newPage({ storageState, viewport: { width: 1280, height: 800 } })
  await page.goto(base)
  await page.getByRole('row').nth(2).waitFor()
  await shot(page, 'clients')
  await open(page, '/mapping/missing', yarns)
  await page.getByLabel('Tax on what Openhall charges').selectOption('none')
  await shot(page, 'missing')
  await open(page, '/sources', yarns)
  await page.getByRole('button', { name: 'Connect Openhall' }).click()
  await page.getByRole('button', { name: 'Grant access' }).click()
  await page.getByRole('radio', { name: /Kiln Lane Seconds/ }).check()
  await page.getByRole('button', { name: /^Use / }).waitFor()
  await shot(page, 'connect')
  await open(page, '/sources/openhall')
  await page.getByRole('button', { name: 'Pull new activity' }).click()
  await page
    .getByText(/^■ Pulled/)
    .or(page.getByText('Pulled: '))
    .first()
    .waitFor({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Put away' }).click()
  await shot(page, 'source')
  await open(page, '/settlements/openhall/OH-2624/EUR')
  await shot(page, 'settlement-blocked')
  await open(page, '/mapping/openhall')
  await page.getByRole('combobox', { name: 'Account for Other charge · Gift wrap' }).click()
  await page.keyboard.type('sales')
  await shot(page, 'mapping')
  await page.getByRole('option', { name: 'Sales, tableware' }).click()
  await page.getByRole('button', { name: 'Save 1 route' }).click()
  await page.getByText('no longer blocked').waitFor()
  await open(page, '/mapping/tax')
  await page.getByRole('button', { name: 'FR, books: not decided' }).click()
  await page.getByLabel('Tax code of the chosen cell').selectOption('FR5')
  await shot(page, 'tax-grid')
  await page.getByRole('button', { name: 'Save the grid' }).click()
  await page.getByText('no longer blocked').waitFor()
  await open(page, '/mapping/tax/check')
  await shot(page, 'tax-check')
  await open(page, '/settlements/openhall/OH-2625/EUR')
  await page.getByRole('table', { name: 'What Openhall says' }).getByRole('row').nth(1).hover()
  await shot(page, 'settlement')
  await page.getByRole('button', { name: 'Post and next' }).click()
  await page.getByText('Posted 1 settlement').waitFor()
  await open(page, '/settlements?state=proposed')
  await page.getByRole('button', { name: /^Post \d settlements$/ }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Post \d settlements$/ })
    .click()
  await page.getByText(/Posted \d settlements/).waitFor()
  await open(page, '/bank')
  await page.getByLabel('Bring in a statement').setInputFiles({
    name: 'skerrymoor-june.camt.xml',
    mimeType: 'application/xml',
    buffer: readFileSync(join(process.env.DEMO_FILES ?? '.data/demo-files', 'skerrymoor-june.camt.xml')),
  })
  await page.getByText(/bank lines new/).waitFor()
  await page.getByRole('button', { name: 'Put away' }).click()
  await page.getByRole('button', { name: /^Confirm \d certain$/ }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Confirm/ })
    .click()
  await page.getByText(/Confirmed \d pairings/).waitFor()
  await open(page, '/clearing/1210')
  await page.getByRole('button', { name: /payout on its way/ }).click()
  await shot(page, 'proof')
  await open(page, '/bank', workshop)
  await page.getByRole('button', { name: /^Payout Brookpay day:2026-06-09/ }).click()
  await shot(page, 'bank')
  await open(page, '/payments', workshop)
  await shot(page, 'tie-out')
  await open(page, '/bank/1000/proof')
  await shot(page, 'bank-proof')
  await open(page, '/sources/brookpay', workshop)
  await page.getByLabel('Bring in files').setInputFiles({
    name: 'brookpay-export.csv',
    mimeType: 'text/csv',
    buffer: readFileSync(join(process.env.DEMO_FILES ?? '.data/demo-files', 'brookpay-export.csv')),
  })
  await page.getByRole('table', { name: 'What it makes' }).waitFor()
  await shot(page, 'columns')
  await open(page, '/books')
  await shot(page, 'books')
  await open(page, '/books/register/1210')
  await page
    .getByRole('row')
    .filter({ hasText: 'OH-2623' })
    .last()
    .getByRole('button', { name: /^Trace/ })
    .first()
    .click()
  await page.getByText('you are here').waitFor()
  await shot(page, 'trace')
  await open(page, '/close')
  await shot(page, 'close')
  await together(browser, 'dark', 1280, async page => {
    await page.goto(base)
    await page.evaluate(() => localStorage.setItem('theme', 'dark'))
  })
  await together(browser, 'phone', 390)
}

/** Three views beside each other in one picture: as they are on a phone, or in the dark. */
const together = async (
  browser: Browser,
  name: string,
  width: number,
  prepare: (page: Page) => Promise<void> = () => Promise.resolve(),
): Promise<void> => {
  const page = await browser.newPage({ storageState, viewport: { width, height: width < 500 ? 844 : 800 } })
  await prepare(page)
  const pictures: string[] = []
  for (const path of ['/settlements', '/settlements/openhall/OH-2624/EUR', '/clearing/1210']) {
    await open(page, path)
    pictures.push((await page.screenshot()).toString('base64'))
  }
  await page.close()
  const shown = Math.min(width, 640)
  const height = Math.ceil((shown * (width < 500 ? 844 : 800)) / width)
  const sheet = await browser.newPage({ viewport: { width: (shown + 12) * pictures.length - 12, height } })
  const images = pictures.map(picture => `<img width="${shown}" src="data:image/png;base64,${picture}">`)
  await sheet.setContent(
    `<body style="margin:0;display:flex;align-items:flex-start;gap:12px;background:#888">${images.join('')}</body>`,
  )
  await sheet.locator('img').last().waitFor()
  await settled(sheet)
  await sheet.screenshot({ path: join(folder, `${name}.png`) })
  await sheet.close()
}

const browser = await engine.launch(chromium)
try {
  await afternoon(browser)
} finally {
  await browser.close()
}
