import { AxeBuilder } from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { askDatabase } from './books.ts'
import { counting } from './counting.ts'

// As a new user would: nothing but files from their client's shop and bank, none of them in a shape of ours.

const chart = `Account number;Account name;Type
1000;Harbour Street current;Bank
2200;VAT on sales;Tax
4000;Sales;Income
6010;Selling fees;Expense
6300;Bank charges;Expense
7900;Exchange differences;Zorp
`
const two = (part: number) => String(part).padStart(2, '0')
const money = (cents: number) => (cents / 100).toFixed(2).replace('.', ',')

/** Sales of two weeks with the fee beside, each week paid out whole. */
const weeks = [
  [4100, 2750, 8900],
  [1999, 12_050],
]
const rows = weeks.flatMap((sales, week) => {
  const day = (at: number) => `${two(1 + week * 7 + at)}/06/2026`
  const nets = sales.map(gross => gross - Math.round(gross * 0.12))
  const paid = nets.reduce((sum, net) => sum + net, 0)
  return [
    ...sales.map((gross, at) =>
      [
        `W${week}-${at}`,
        `W-${week + 1}`,
        `${day(at)} 10:00`,
        'Verkauf',
        `F-${week}${at}`,
        'Irland',
        money(gross),
        money(gross - (nets[at] ?? 0)),
        money(nets[at] ?? 0),
      ].join(';'),
    ),
    [`W${week}-p`, `W-${week + 1}`, `${day(6)} 23:00`, 'Auszahlung', '', '', money(-paid), '0,00', money(-paid)].join(
      ';',
    ),
  ]
})
const market = Buffer.from(
  ['Vorgangsnummer;Abrechnung;Zeitpunkt;Vorgangsart;Bestellnummer;Land;Brutto;Gebühr;Netto', ...rows].join('\r\n'),
  'latin1',
)
const paidOut = weeks.map(sales => sales.reduce((sum, gross) => sum + gross - Math.round(gross * 0.12), 0))
const statement = `:20:S
:25:IE29SKMU99007712349988
:28C:7/1
:60F:C260531EUR500,00
:61:260609C${money(paidOut[0] ?? 0)},NTRFW-1
:86:QUILLMARKET W-1
:61:260615D12,00NMSCNONREF
:86:MONTHLY CHARGES
:62F:C260615EUR${money(500_00 + (paidOut[0] ?? 0) - 1200)}
`.replace(/(\d),NTRF/, '$1NTRF')

test('from nothing to the first settlement, by files alone', async ({ page }) => {
  const { press, fill, choose, file, count } = counting(page)
  const button = (name: string | RegExp) => page.getByRole('button', { name })
  const stage = (name: string) =>
    page.getByRole('navigation', { name: 'Course' }).getByRole('link', { name: new RegExp(`^${name}`) })
  await page.goto('/')
  await press(button('Add a client'))
  await fill('Name', 'Fennel Glass')
  await choose('Country', 'IE')
  await expect(page.getByLabel('Base currency')).toHaveValue('EUR')
  await press(button('Take on'))
  await expect(page.getByText('No accounts yet')).toBeVisible()

  await file('chart.csv', chart)
  await expect(page.getByRole('dialog')).toContainText('1 account has no type that is known')
  await choose('Type of 7900', 'other_income')
  await press(button('Take 6 new accounts'))
  await expect(page.getByRole('table', { name: 'Chart of accounts' })).toContainText('Harbour Street current')

  await press(stage('Sources'))
  await press(button('Add a source'))
  await fill('Name', 'Quillmarket')
  await press(button('Add source'))
  await expect(page.getByRole('heading', { name: 'Quillmarket' })).toBeVisible()

  // The file says neither its encoding nor its currency, and signs its fees as what they cost.
  await file('april.txt', market)
  await press(button('windows-1252'))
  await expect(page.getByRole('columnheader', { name: /Gebühr/ })).toBeVisible()
  await expect(button(/^Bring in/)).toBeDisabled()
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(one => `${one.id} ${one.nodes[0]?.html}`)).toEqual([])
  await fill('Currency of the file', 'EUR')
  await press(button(/^Bring in 7 rows/))
  await expect(page.getByText('12 rows new')).toBeVisible()

  await press(stage('Mapping'))
  await press(page.getByRole('link', { name: /Propose routes/ }))
  await press(page.getByRole('checkbox', { name: 'Take Selling fee · Verkauf' }))
  await press(button('Make 2 routes'))
  await expect(page.getByRole('heading', { name: 'Quillmarket', exact: true })).toBeVisible()
  await press(page.getByRole('link', { name: 'Tax', exact: true }))
  await press(button('IE, no class: not decided'))
  await choose('Tax code of the chosen cell', 'new')
  await fill('Code', 'S23')
  await fill('Name', 'Ireland, 23 %')
  await fill('Country', 'IE')
  await fill('Rate, %', '23')
  await press(button('Save tax code'))
  await choose('Tax code of the chosen cell', 'S23')
  await press(button('Save the grid'))
  await expect(stage('Mapping')).toContainText('all mapped')
  await press(stage('Settlements'))
  await expect(page.getByRole('table').first()).toContainText('proposed')
  const first = page.getByRole('link', { name: 'W-1' })
  await expect(first).toBeVisible()
  const acts = count()
  expect(acts).toBeLessThanOrEqual(40)

  await press(first)
  await expect(page.getByRole('table', { name: 'Entry' })).toContainText('Selling fees')
  // 157.50 of sales: their tax, and what is left; the fee apart, and what was paid out.
  for (const amount of ['128.05', '29.45', '18.90', '138.60'])
    await expect(page.getByRole('table', { name: 'Entry' })).toContainText(amount)

  await press(stage('Bank'))
  await file('june.sta', statement)
  await expect(page.getByRole('dialog')).toContainText('IE29SKMU99007712349988')
  await press(button('Import the statement'))
  await expect(page.getByText('2 bank lines new')).toBeVisible()
  // The same again is known, number and all.
  await file('june again.sta', statement)
  await expect(page.getByText('0 bank lines new, 2 known already')).toBeVisible()
  const [stored] = await askDatabase<{ lines: number; foots: boolean }>(
    `SELECT lines, opening + sum = closing AS foots FROM statement WHERE format = 'mt940'`,
    [],
    Number(/\/c\/(\d+)/.exec(page.url())?.[1]),
  )
  expect(stored).toEqual({ lines: 2, foots: true })
  test.info().annotations.push({ type: 'acts', description: String(acts) })
})

test('a client that was taken on by mistake goes again, and an archived one is only read', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Add a client' }).click()
  await page.getByLabel('Name', { exact: true }).fill('By mistake')
  await page.getByLabel('Country').selectOption('DE')
  await page.getByRole('button', { name: 'Take on' }).click()
  await page.getByRole('button', { name: 'Take these 30 accounts' }).click()
  await expect(page.getByRole('table', { name: 'Chart of accounts' })).toContainText('Girokonto')
  await page.getByRole('link', { name: 'Settings' }).click()
  await page.getByRole('button', { name: 'Archive' }).click()
  await expect(page.getByRole('button', { name: 'Take up again' })).toBeVisible()
  const refused = await page.request.post(page.url().replace(/^(.*)\/c\/(\d+).*$/, '$1/api/clients/$2/books/chart'), {
    headers: { 'x-culvert': 'test' },
    data: { accounts: [] },
  })
  expect([refused.status(), (await refused.json()).code]).toEqual([409, 'client_archived'])
  await page.getByRole('button', { name: 'Take up again' }).click()
  await page.getByRole('button', { name: 'Remove …' }).click()
  await expect(page.getByRole('button', { name: 'Remove it' })).toBeDisabled()
  await page.getByLabel('Type By mistake').fill('By mistake')
  await page.getByRole('button', { name: 'Remove it' }).click()
  await expect(page.getByRole('heading', { name: 'Clients' })).toBeVisible()
  await expect(page.getByText('By mistake')).toHaveCount(0)
})
