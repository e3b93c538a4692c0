import { endpoints } from '@culvert/contract'
import { expect, test } from '@playwright/test'
import { client } from './books.ts'
import { clean, signInAs, strange } from './persons.ts'
import { base } from './signIn.ts'

test('whoever is not signed in signs in in the place of the page, by keys alone, and then sees it', async ({
  browser,
}) => {
  const page = await strange(browser)
  await page.goto(`${client}/books`)
  await expect(page.getByLabel('Address')).toBeFocused()
  await clean(page)
  await page.keyboard.type('orla.quill@ternandtally.example')
  await page.keyboard.press('Tab')
  await page.keyboard.type('five-kilns-by-the-lane')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('The address or the password is not right.')
  await page.getByLabel('Password').fill('six-kilns-by-the-lane')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Chart of accounts' })).toBeVisible()
  await page.getByRole('link', { name: 'Orla Quill' }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('textbox', { name: 'Password', exact: true })).toBeVisible()
  await page.context().close()
})

test('a junior sees whose posting is, and the server holds to it', async ({ browser }) => {
  const page = await strange(browser)
  await page.goto(`${client}/settlements`)
  await signInAs(page, 'Ben Aster')
  await expect(page.getByRole('button', { name: /^Ask for consent to post/ })).toBeVisible()
  await expect(page.getByRole('button', { name: /^Post/ })).toHaveCount(0)
  const answer = await page.request.post(`/api/clients/1${endpoints.post.path}`, {
    headers: { 'x-culvert': 'test' },
    data: { keys: [{ source: 'openhall', key: 'OH-2620', currency: 'EUR' }] },
  })
  expect([answer.status(), ((await answer.json()) as { code: string }).code]).toEqual([403, 'may_not'])
  await page.goto('/')
  await expect(page.getByRole('link', { name: 'Ben Aster' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'People' })).toHaveCount(0)
  await page.context().close()
  const mina = await strange(browser)
  await mina.goto(`${client}/settlements`)
  await signInAs(mina, 'Mina Dorset')
  await expect(mina.getByText('Posting and taking back is for the owner or a bookkeeper.')).toBeVisible()
  await expect(mina.getByRole('button', { name: /consent/ })).toHaveCount(0)
  await mina.context().close()
})

test('a session that ends loses nothing that was being written', async ({ browser }) => {
  const page = await strange(browser)
  await page.goto(`${client}/mapping/rules`)
  await signInAs(page, 'Orla Quill')
  await page.getByRole('button', { name: 'Add a rule' }).click()
  await page.getByLabel('Condition 1, value').fill('half written')
  await page.context().clearCookies()
  await page.getByLabel('Condition 1, value').fill('half written still')
  const again = page.getByRole('dialog', { name: 'Sign in again' })
  await expect(again).toBeVisible()
  await again.getByLabel('Password').fill('six-kilns-by-the-lane')
  await again.getByRole('button', { name: 'Sign in' }).click()
  await expect(again).toHaveCount(0)
  await expect(page.getByLabel('Condition 1, value')).toHaveValue('half written still')
  await page.context().close()
})

test('somebody is invited by a letter, begins by its link, and sees what is theirs', async ({ browser, page }) => {
  await page.goto('/people')
  await page.getByRole('button', { name: 'Invite somebody' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Address').fill('nell.brack@ternandtally.example')
  await dialog.getByRole('radio', { name: /^accountant/ }).click()
  await dialog.getByLabel('Of Kiln Lane Ceramics').selectOption('accountant')
  await dialog.getByRole('button', { name: 'Invite' }).click()
  await expect(dialog).toContainText('A letter with this link is on its way.')
  const letters = await page.request.get(`${process.env.STANDINS_URL}/mail`, {
    headers: { accept: 'application/json' },
  })
  const { letters: sent } = (await letters.json()) as { letters: { to: string; text: string }[] }
  expect(sent[0]?.to).toBe('nell.brack@ternandtally.example')
  const link = /http\S+\/invitation#\S+/.exec(sent[0]?.text ?? '')?.[0] ?? ''
  const nell = await strange(browser)
  await nell.goto(`${base}/invitation${new URL(link).hash}`)
  await expect(nell.getByRole('heading', { name: 'Keep books with Tern & Tally' })).toBeVisible()
  await clean(nell)
  await nell.getByLabel('Your name').fill('Nell Brack')
  await nell.getByLabel('A password').fill('too short')
  await nell.getByRole('button', { name: 'Begin' }).click()
  await expect(nell.getByText('at least 12 characters')).toBeVisible()
  await nell.getByLabel('A password').fill('salt-marsh-in-april')
  await nell.getByRole('button', { name: 'Begin' }).click()
  await expect(nell.getByRole('table', { name: 'Clients' })).toContainText('Kiln Lane Ceramics')
  await expect(nell.getByRole('table', { name: 'Clients' })).not.toContainText('Cogwhistle')
  await nell.context().close()
  const late = await strange(browser)
  await late.goto(`${base}/invitation${new URL(link).hash}`)
  await expect(late.getByRole('alert')).toContainText('The link was used')
  await late.context().close()
  await page.goto('/people')
  await page.getByRole('button', { name: 'Let Nell Brack go' }).click()
  await page.getByRole('button', { name: 'Let go', exact: true }).last().click()
  await expect(page.getByText('Nell Brack is of the practice no more')).toBeVisible()
})
