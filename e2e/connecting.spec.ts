import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page, test } from '@playwright/test'
import { askDatabase } from './books.ts'
import { counting } from './counting.ts'

const files = process.env.DEMO_FILES ?? '.data/demo-files'
const standIns = process.env.STANDINS_URL ?? ''

const chart = `number,name,type
1000,Skerrymoor current,bank
1210,Openhall clearing,clearing
2200,VAT on sales,tax
4000,Sales,income
6010,Selling fees,expense
6300,Bank charges,expense
7900,Exchange differences,other_income
`
const statement = `:20:S
:25:IE29SKMU99007712340042
:28C:4/1
:60F:C260413EUR1000,00
:61:260421D12,00NMSCNONREF
:86:MONTHLY CHARGES
:62F:C260421EUR988,00
`

const clientOf = (page: Page): number => Number(/\/c\/(\d+)/.exec(page.url())?.[1])
const sound = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(one => `${one.id} ${one.nodes[0]?.html}`)).toEqual([])
}

test('from nothing to the first settlement: a marketplace by consent, a processor and a bank by file', async ({
  page,
}) => {
  const { press, fill, choose, file, count } = counting(page)
  const button = (name: string | RegExp) => page.getByRole('button', { name })
  const stage = (name: string) =>
    page.getByRole('navigation', { name: 'Course' }).getByRole('link', { name: new RegExp(`^${name}`) })
  await page.goto('/')
  await press(button('Add a client'))
  await fill('Name', 'Kiln Lane Seconds')
  await choose('Country', 'IE')
  await press(button('Take on'))
  await expect(page.getByText('No accounts yet')).toBeVisible()
  await file('chart.csv', chart)
  await press(button('Take 7 new accounts'))
  await expect(page.getByRole('table', { name: 'Chart of accounts' })).toContainText('Skerrymoor current')

  await press(stage('Sources'))
  await press(button('Connect Openhall'))
  await expect(page.getByRole('heading', { name: 'Openhall' })).toBeVisible()
  await press(button('Grant access'))
  await expect(page.getByRole('radio', { name: /Kiln Lane Seconds/ })).toBeChecked()
  // What serves another client is named and cannot be chosen.
  await expect(page.getByRole('radio', { name: /Kiln Lane Ceramics.*serves Kiln Lane Ceramics/ })).toBeDisabled()
  expect(page.url()).not.toContain('code=')
  await sound(page)
  await press(button('Use Kiln Lane Seconds'))
  await expect(page.getByText('Connected to Openhall')).toBeVisible()
  await expect(page.getByRole('table', { name: 'Pull log' })).toContainText('done')

  await press(stage('Sources'))
  await press(button('Add a card processor by file'))
  await fill('Name', 'Brookpay')
  await press(button('Add source'))
  // As the processor exports it, of a client in euros.
  await file('brookpay.csv', readFileSync(join(files, 'brookpay-export.csv'), 'utf8').replaceAll(';CAD', ';EUR'))
  await expect(page.getByRole('columnheader', { name: /merch_ref/ })).toBeVisible()
  await press(button(/^Bring in/))
  await expect(page.getByText(/rows new/)).toBeVisible()

  await press(stage('Bank'))
  await expect(page.getByRole('heading', { name: 'Skerrymoor current' })).toBeVisible()
  await file('april.sta', statement)
  await press(button('Import the statement'))
  await expect(page.getByText('1 bank line new')).toBeVisible()

  await press(stage('Mapping'))
  await press(page.getByRole('link', { name: 'What is missing' }))
  await expect(page.getByRole('table', { name: 'What is missing' })).toContainText('Account for sale')
  await sound(page)
  await choose('Tax on what Openhall charges', 'none')
  await fill('Rate for IE, %', '23')
  await fill('Rate for DE, %', '19')
  await fill('Rate for FR, %', '20')
  await press(button(/^Make \d+ accounts/))
  await expect(page.getByText(/no longer blocked/)).toBeVisible()
  await press(stage('Settlements'))
  const first = page.getByRole('link', { name: 'OH-2615' })
  await expect(first).toBeVisible()
  await expect(page.getByRole('row', { name: /OH-2615/ })).toContainText('proposed')
  const acts = count()
  expect(acts).toBeLessThanOrEqual(40)
  test.info().annotations.push({ type: 'acts', description: String(acts) })

  await press(first)
  await expect(page.getByRole('table', { name: 'Entry' })).toContainText('Selling fees')
  // Reserve kept and released share one account.
  const routes = await askDatabase<{ kind: string; account: string }>(
    `SELECT kind, account FROM route WHERE kind IN ('reserve_kept', 'reserve_released') ORDER BY kind`,
    [],
    clientOf(page),
  )
  expect(routes).toHaveLength(2)
  expect(routes[0]?.account).toBe(routes[1]?.account)
})

test('what is new at a connected shop comes by itself, and a grant that was withdrawn shows its way out', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Kiln Lane Seconds' }).first().click()
  const course = page.getByRole('navigation', { name: 'Course' })
  await course.getByRole('link', { name: /^Sources/ }).click()
  await page.getByRole('table', { name: 'Sources' }).getByRole('link', { name: 'Openhall' }).click()
  const log = page.getByRole('table', { name: 'Pull log' })
  await expect(log.getByRole('row')).toHaveCount(2)
  const there = page.url()
  await page.goto(standIns)
  const seconds = page.getByRole('row', { name: /Kiln Lane Seconds/ })
  await seconds.getByRole('button', { name: 'refund' }).click()
  await expect(page.getByRole('status')).toContainText('a buyer is paid back')
  await expect(page.getByRole('status')).toContainText('202')
  await page.goto(there)
  await expect(log.getByRole('row')).toHaveCount(3)
  await expect(log.getByRole('row').nth(1)).toContainText('done')

  await page.goto(standIns)
  const withdraw = page
    .getByRole('article')
    .filter({ hasText: 'Kiln Lane Seconds' })
    .getByRole('button', { name: 'Withdraw' })
  await withdraw.last().click()
  await page.goto(there)
  await page.getByRole('button', { name: 'Pull new activity' }).click()
  await expect(page.getByText(/◆ What Openhall granted was withdrawn there/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Pull new activity' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Connect again' }).click()
  await page.getByRole('button', { name: 'Refuse' }).click()
  await expect(page.getByText('Access was refused at Openhall. Nothing was connected.')).toBeVisible()
  await page.goto(there)
  await page.getByRole('button', { name: 'Connect again' }).click()
  await page.getByRole('button', { name: 'Grant access' }).click()
  await expect(page.getByText('Connected to Openhall')).toBeVisible()
  await page.getByRole('button', { name: 'Disconnect' }).click()
  await expect(page.getByRole('dialog')).toContainText('nothing more is pulled of Openhall')
  await page.getByRole('dialog').getByRole('button', { name: 'Disconnect' }).click()
  await expect(page.getByText('Openhall is disconnected.')).toBeVisible()
  await expect(page.getByText('Connected to Openhall')).toHaveCount(0)
})

test('the owner is asked by a link, grants in a browser of their own, and the bookkeeper chooses the shop', async ({
  page,
  browser,
}) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Kiln Lane Seconds' }).first().click()
  await page
    .getByRole('navigation', { name: 'Course' })
    .getByRole('link', { name: /^Sources/ })
    .click()
  await page.getByRole('button', { name: 'Ask the owner for Openhall' }).click()
  await page.getByLabel('Sent to').fill('aoife@kilnlane.example')
  await page.getByRole('button', { name: 'Ask', exact: true }).click()
  const link = await page.getByLabel('Link for the owner').inputValue()
  await page.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByText('Openhall: asked of the owner')).toBeVisible()

  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } })
  const owner = await context.newPage()
  await owner.goto(link)
  await expect(owner.getByRole('heading', { name: 'Let Tern & Tally see Openhall' })).toBeVisible()
  await sound(owner)
  await owner.getByRole('button', { name: 'Go to Openhall' }).click()
  await owner.getByLabel(/Aoife Marren/).check()
  await owner.getByRole('button', { name: 'Grant access' }).click()
  await expect(owner.getByRole('heading', { name: 'Thank you' })).toBeVisible()
  await owner.goto(link)
  await expect(owner.getByRole('heading', { name: 'Granted' })).toBeVisible()
  await context.close()

  await page.reload()
  await expect(page.getByText('Openhall: signed in, shop to choose')).toBeVisible()
  await page.getByRole('link', { name: 'Choose the shop' }).click()
  await expect(page.getByText('signed in as Aoife Marren of Kiln Lane')).toBeVisible()
  await page.getByLabel('It becomes').selectOption({ label: 'Openhall, whose activity came as files' })
  await page.getByRole('button', { name: 'Use Kiln Lane Seconds' }).click()
  await expect(page.getByText(/granted by the owner/)).toBeVisible()
})
