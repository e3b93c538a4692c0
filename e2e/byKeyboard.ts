import type { Locator, Page } from '@playwright/test'

/** Presses of Tab after which what is looked for counts as out of reach. */
const mostTabs = 250

/** Goes to a control by Tab, from wherever one is. @throws Error where it cannot be reached so */
export const tabTo = async (page: Page, target: Locator): Promise<void> => {
  await target.waitFor()
  // Looked up once: finding it by its role takes longer than pressing the key. What is drawn anew meanwhile is looked up again.
  let element = await target.elementHandle()
  for (let pressed = 0; pressed < mostTabs; pressed++) {
    const found = await element?.evaluate(one => (one.isConnected ? one === document.activeElement : null))
    if (found) return
    if (found === null || found === undefined) element = await target.elementHandle()
    else await page.keyboard.press('Tab')
  }
  throw new Error(`no Tab reaches ${target}`)
}

/** Goes to a control by Tab and presses a key there. */
export const pressOn = async (page: Page, target: Locator, key = 'Enter'): Promise<void> => {
  await tabTo(page, target)
  await page.keyboard.press(key)
}

/** Goes down a table's rows by `j` until the one that holds a text is the one that keys act on. */
export const downTo = async (page: Page, text: string | RegExp): Promise<void> => {
  const row = page.getByRole('row').filter({ hasText: text }).first()
  await row.waitFor()
  for (let pressed = 0; pressed < mostTabs; pressed++) {
    await page.keyboard.press('j')
    if (((await row.getAttribute('data-tone')) ?? '').split(' ').includes('active')) return
  }
  throw new Error(`no row is reached that holds ${text}`)
}

/** Brings a file in by the button that asks for it. */
export const bringIn = async (
  page: Page,
  label: string,
  file: { name: string; mimeType: string; buffer: Buffer },
): Promise<void> => {
  const chooser = page.waitForEvent('filechooser')
  await pressOn(page, page.getByRole('button', { name: label, exact: true }))
  await (await chooser).setFiles(file)
}
