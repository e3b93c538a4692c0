import { addressOf, endpoints } from '@culvert/contract'
import { expect, test } from '@playwright/test'
import { client } from './books.ts'
import { clean, signInAs, strange } from './persons.ts'
import { base } from './signIn.ts'

const phone = { width: 390, height: 844 }
const settlement = `${client}/settlements/openhall/OH-2620/EUR`

test('a junior asks for consent, another consents, and it is taken back from the acts', async ({ browser, page }) => {
  const ben = await strange(browser)
  await ben.goto(`${client}/close`)
  await signInAs(ben, 'Ben Aster')
  await ben.getByRole('button', { name: 'Ask to lock Dec 2025' }).click()
  await ben.getByLabel('A few words to it').fill('Agreed with the owner')
  await ben.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(ben.getByText('Asked. It waits for whoever may do it')).toBeVisible()
  await ben.goto(`${client}/asked`)
  await expect(ben.getByRole('region', { name: 'What you asked consent for' })).toContainText('waits for consent')

  await page.goto(`${client}/settlements`)
  await page.getByRole('link', { name: /asked of you/ }).click()
  const wanted = page.getByRole('region', { name: 'For your consent' })
  await expect(wanted).toContainText('Ben Aster asks to lock Dec 2025')
  await wanted.getByRole('button', { name: 'Consent', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Consent' }).click()
  await expect(page.getByText('Done as Ben Aster asked')).toBeVisible()
  await expect(wanted).toContainText('Nothing waits for your consent.')
  await ben.reload()
  await expect(ben.getByRole('region', { name: 'What you asked consent for' })).toContainText(
    'done with the consent of Orla Quill',
  )
  await ben.context().close()

  await page.goto(`${client}/acts`)
  await page.getByLabel('What', { exact: true }).selectOption('lock_period')
  const acts = page.getByRole('table', { name: 'Acts' })
  await acts.getByText('locked a month').first().click()
  const dialog = page.getByRole('dialog', { name: 'Orla Quill locked a month' })
  await expect(dialog).toContainText('locked no → yes')
  await dialog.getByRole('button', { name: 'Take back' }).click()
  await page.getByRole('dialog', { name: 'Take back the lock?' }).getByRole('button', { name: 'Take back' }).click()
  await expect(page.getByText('The month is open again.')).toBeVisible()
  await page.getByRole('button', { name: 'Check the seals' }).click()
  await expect(page.getByRole('region', { name: 'Seals' })).toContainText('every seal is right')
})

test('a question goes to a colleague, by keys alone, and stands on their course', async ({ browser, page }) => {
  await page.goto(`${client}/settlements`)
  await page.getByRole('table', { name: 'Settlements' }).waitFor()
  await page.keyboard.press('j')
  await page.keyboard.press('n')
  const panel = page.getByRole('dialog', { name: 'Notes and history' })
  await panel.getByLabel('Note or question').fill('Is the last week whole?')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Mina')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Asked: it stands on their course.')).toBeVisible()
  await clean(page)
  const mina = await strange(browser)
  await mina.goto(`${client}/settlements`)
  await signInAs(mina, 'Mina Dorset')
  await mina.getByRole('link', { name: '1 asked of you' }).click()
  await clean(mina)
  const questions = mina.getByRole('region', { name: 'Questions to you' })
  await questions.getByRole('button', { name: 'Answer' }).click()
  await questions.getByLabel('Answer').fill('It is: I held it against the processor.')
  await questions.getByRole('button', { name: 'Answer' }).click()
  await expect(questions).toContainText('I held it against the processor.')
  await expect(mina.getByRole('link', { name: 'Asked', exact: true })).toBeVisible()
  await mina.context().close()
  await page.goto(`${client}/asked`)
  const answered = page.getByRole('region', { name: 'Answers to you' })
  await expect(answered).toContainText('Mina Dorset')
  await answered.getByRole('button', { name: 'Close it' }).click()
  await expect(answered).toContainText('No question of yours was answered that is not closed.')
})

const png = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)

test('the client answers by a link on a phone, with a picture, in one browser and no other', async ({
  browser,
  page,
}) => {
  await page.goto(settlement)
  await page.getByRole('button', { name: 'Notes and history' }).click()
  const panel = page.getByRole('dialog', { name: 'Notes and history' })
  await panel.getByLabel('Note or question').fill('The payout was short. Do you know of a deduction?')
  await panel.getByLabel('For', { exact: true }).selectOption('client')
  await panel.getByLabel('Sent to').fill('mara@kilnlane.example')
  await panel.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(page.getByText('the letter with the link is on its way')).toBeVisible()
  const letters = await page.request.get(`${process.env.STANDINS_URL}/mail`, {
    headers: { accept: 'application/json' },
  })
  const { letters: sent } = (await letters.json()) as { letters: { to: string; text: string }[] }
  const letter = sent.find(one => one.to === 'mara@kilnlane.example')
  const hash = /\/question(#\S+)/.exec(letter?.text ?? '')?.[1] ?? ''

  const mara = await strange(browser, phone)
  await mara.goto(`/question${hash}`)
  await clean(mara)
  // By keys: the button is the first thing that takes them.
  await mara.getByRole('button', { name: 'Open the question' }).focus()
  await mara.keyboard.press('Enter')
  await expect(mara.getByText('The payout was short.')).toBeVisible()
  await clean(mara)
  await mara.getByLabel('Your answer').fill('They kept back a broken shelf.')
  await mara.getByRole('button', { name: 'Send' }).click()
  await expect(mara.getByText('Your answer is sent.')).toBeVisible()
  const attach = mara.getByLabel('Attach a picture or a PDF')
  await attach.setInputFiles({
    name: 'page.png',
    mimeType: 'image/png',
    buffer: Buffer.from('<html>not a picture</html>'),
  })
  await expect(mara.getByText('this file is none, whatever its name')).toBeVisible()
  await attach.setInputFiles({ name: 'shelf.png', mimeType: 'image/png', buffer: png })
  await expect(mara.getByText('It is attached.')).toBeVisible()
  expect(await mara.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(phone.width)
  // It is still open here after the browser came back to it.
  await mara.reload()
  await expect(mara.getByText('They kept back a broken shelf.')).toBeVisible()

  const other = await strange(browser)
  await other.goto(`/question${hash}`)
  await expect(other.getByText('The question was opened in another browser.')).toBeVisible()
  await expect(other.getByText('The payout was short.')).toHaveCount(0)
  await other.context().close()

  await page.goto(`${client}/asked`)
  const answered = page.getByRole('region', { name: 'Answers to you' })
  await expect(answered).toContainText('The client')
  const saved = page.waitForEvent('download')
  await answered.getByRole('button', { name: 'shelf.png' }).click()
  expect((await saved).suggestedFilename()).toBe('shelf.png')
  await answered.getByRole('button', { name: 'Close it' }).click()
  await expect(answered).toContainText('No question of yours was answered that is not closed.')
  await mara.reload()
  await expect(mara.getByText('The question is closed. Thank you.')).toBeVisible()
  await mara.context().close()
})

test('a guest sees what they are asked, and nothing of the books', async ({ browser, page }) => {
  const invited = await page.request.post(`/api${addressOf(endpoints.invite, {})}`, {
    headers: { 'x-culvert': 'test' },
    data: { email: 'mara.teal@kilnlane.example', role: 'guest', clients: [{ clientId: 1, role: 'guest' }] },
  })
  const { link } = (await invited.json()) as { link: string }
  const mara = await strange(browser, phone)
  await mara.goto(`/invitation${new URL(link).hash}`)
  await mara.getByLabel('Your name').fill('Mara Teal')
  await mara.getByLabel('A password').fill('clay-by-the-ton-and-more')
  await mara.getByRole('button', { name: 'Begin' }).click()
  await page.goto(settlement)
  await page.getByRole('button', { name: 'Notes and history' }).click()
  const panel = page.getByRole('dialog', { name: 'Notes and history' })
  await panel.getByLabel('Note or question').fill('Who is Marten Holm?')
  await panel.getByLabel('For', { exact: true }).selectOption({ label: 'Mara Teal' })
  await panel.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(page.getByText('Asked: it stands on their course.')).toBeVisible()
  await mara.goto(`${client}/books`)
  await expect(mara.getByText('Who is Marten Holm?')).toBeVisible()
  await expect(mara.getByRole('navigation', { name: 'Course' })).toHaveCount(0)
  await clean(mara)
  const books = await mara.request.get(`/api${addressOf(endpoints.chart, { client: 1 })}`)
  expect(books.status()).toBe(403)
  await mara.getByRole('button', { name: 'Answer' }).click()
  await mara.getByLabel('Answer').fill('Our first customer.')
  await mara.getByRole('button', { name: 'Answer' }).click()
  await expect(mara.getByText('Our first customer.')).toBeVisible()
  await mara.context().close()
  await page.goto('/people')
  await page.getByRole('button', { name: 'Let Mara Teal go' }).click()
  await page.getByRole('button', { name: 'Let go', exact: true }).last().click()
  await expect(page.getByText('Mara Teal is of the practice no more')).toBeVisible()
})

test('an address changes once the letters at both are confirmed', async ({ browser, page }) => {
  const invited = await page.request.post(`/api${addressOf(endpoints.invite, {})}`, {
    headers: { 'x-culvert': 'test' },
    data: {
      email: 'tam.reed@ternandtally.example',
      role: 'bookkeeper',
      clients: [{ clientId: 1, role: 'bookkeeper' }],
    },
  })
  const { link } = (await invited.json()) as { link: string }
  const tam = await strange(browser)
  await tam.goto(`/invitation${new URL(link).hash}`)
  await tam.getByLabel('Your name').fill('Tam Reed')
  await tam.getByLabel('A password').fill('reeds-along-the-canal')
  await tam.getByRole('button', { name: 'Begin' }).click()
  await tam.getByRole('link', { name: 'Tam Reed' }).click()
  await tam.getByLabel('New address').fill('tam@reed.example')
  await tam.getByLabel('Your password').fill('reeds-along-the-canal')
  await tam.getByRole('button', { name: 'Change the address' }).click()
  await expect(tam.getByText('A letter went to both addresses.')).toBeVisible()
  const letters = await page.request.get(`${process.env.STANDINS_URL}/mail`, {
    headers: { accept: 'application/json' },
  })
  const { letters: sent } = (await letters.json()) as { letters: { to: string; text: string }[] }
  const hashAt = (email: string): string =>
    /\/address(#\S+)/.exec(sent.find(one => one.to === email)?.text ?? '')?.[1] ?? ''
  const reader = await strange(browser)
  await reader.goto(`${base}/address${hashAt('tam@reed.example')}`)
  await clean(reader)
  await reader.getByRole('button', { name: 'Confirm' }).click()
  await expect(reader.getByText('It changes once the letter at the former address is confirmed too.')).toBeVisible()
  await reader.goto('/')
  await reader.goto(`${base}/address${hashAt('tam.reed@ternandtally.example')}`)
  await reader.getByRole('button', { name: 'Confirm' }).click()
  await expect(reader.getByText('The address is changed.')).toBeVisible()
  await reader.getByRole('link', { name: 'Sign in' }).click()
  await reader.getByLabel('Address').fill('tam@reed.example')
  await reader.getByLabel('Password').fill('reeds-along-the-canal')
  await reader.keyboard.press('Enter')
  await expect(reader.getByRole('table', { name: 'Clients' })).toContainText('Kiln Lane Ceramics')
  await reader.context().close()
  await tam.context().close()
  await page.goto('/people')
  await page.getByRole('button', { name: 'Let Tam Reed go' }).click()
  await page.getByRole('button', { name: 'Let go', exact: true }).last().click()
})

test('what is kept of a customer is found, saved as a file, and erased', async ({ page }) => {
  await page.goto('/c/2/sources')
  await page.getByRole('link', { name: 'Customers' }).click()
  await page.getByLabel('Name or e-mail of a customer').fill('a')
  const table = page.getByRole('table', { name: 'Customers' })
  await expect(table).toContainText('Write how a name or an e-mail begins.')
  await page.goto(`${client}/sources/customers`)
  await page.getByLabel('Name or e-mail of a customer').fill('Marten')
  await expect(table).toContainText('Marten Holm')
  await table.getByRole('checkbox').nth(1).check({ force: true })
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as a file' }).click()
  expect((await saved).suggestedFilename()).toBe('customer-data.json')
  await page.getByRole('button', { name: 'Erase' }).click()
  await expect(page.getByRole('dialog')).toContainText('It cannot be taken back.')
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click()
  await page.goto(`${client}/sources/openhall/options`)
  const data = page.getByRole('region', { name: 'Customers’ data' })
  await data.getByRole('radio', { name: /^the name alone/ }).click()
  await data.getByRole('button', { name: 'Change it' }).click()
  await expect(page.getByRole('dialog')).toContainText('What is kept beyond it is erased')
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click()
})
