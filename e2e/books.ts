import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Locator, Page } from '@playwright/test'
import pg from 'pg'

/** Asks the database itself, past the application: what the pages say is held against sums made here. */
export const askDatabase = async <Row extends pg.QueryResultRow>(
  text: string,
  values: unknown[] = [],
  of = 1,
): Promise<Row[]> => {
  const admin = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await admin.connect()
  try {
    // As the application sees one client's rows, and none of another's.
    await admin.query(`SET ROLE culvert_app; SELECT set_config('app.client', '${of}', false)`)
    return (await admin.query<Row>(text, values)).rows
  } finally {
    await admin.end()
  }
}

/** Minor units as the interface writes them. */
export const euros = (minor: number): string => {
  if (minor === 0) return '–'
  const text = Math.abs(minor).toString().padStart(3, '0')
  return `${minor < 0 ? '−' : ''}${Number(text.slice(0, -2)).toLocaleString('en-IE')}.${text.slice(-2)}`
}

/** Where a file of the demo's lies, to be brought in by hand. */
export const demoPath = (name: string): string => resolve(process.env.DEMO_FILES ?? '.data/demo-files', name)

/** Such a file. */
export const demoFile = (name: string): { name: string; mimeType: string; buffer: Buffer } => ({
  name,
  mimeType: 'text/csv',
  buffer: readFileSync(demoPath(name)),
})

/** Goes to a stage of the client by the course. */
export const goTo = async (page: Page, stage: string): Promise<void> => {
  await page.getByRole('navigation', { name: 'Course' }).getByRole('link', { name: stage }).click()
}

export const client = '/c/1'

/** The row of a table that holds a text. */
export const rowWith = (page: Page, text: string): Locator => page.getByRole('row').filter({ hasText: text })

/** Chooses an account by typing into its picker, once the accounts are there. */
export const chooseAccount = async (page: Page, label: string, typed: string): Promise<void> => {
  await page.getByLabel(label).fill(typed)
  await page
    .getByRole('option', { name: new RegExp(`^\\d+.*${typed}`, 'i') })
    .first()
    .waitFor()
  await page.keyboard.press('Enter')
}
