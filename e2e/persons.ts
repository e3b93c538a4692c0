import { AxeBuilder } from '@axe-core/playwright'
import { type Browser, expect, type Page } from '@playwright/test'
import { base } from './signIn.ts'

/** A browser in which nobody has signed in. */
export const strange = async (browser: Browser, viewport = { width: 1280, height: 800 }): Promise<Page> =>
  (await browser.newContext({ baseURL: base, viewport, storageState: { cookies: [], origins: [] } })).newPage()

/** Signs in as one of the demo's people, where the page offers it. */
export const signInAs = async (page: Page, name: string): Promise<void> => {
  await page.getByRole('region', { name: 'People of the demo' }).getByRole('button', { name }).click()
}

/** Nothing serious is wrong with the page for whoever does not see it. */
export const clean = async (page: Page): Promise<void> => {
  const { violations } = await new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).analyze()
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')
  expect(serious.map(one => one.id)).toEqual([])
}
