import type { Locator, Page } from '@playwright/test'

/** Counts what a person does: presses, filled fields, chosen options, chosen files. */
export const counting = (page: Page) => {
  let acts = 0
  const act = async (what: Promise<unknown>) => {
    acts++
    await what
  }
  return {
    count: () => acts,
    press: (what: Locator) => act(what.click()),
    fill: (label: string, text: string) => act(page.getByLabel(label, { exact: true }).fill(text)),
    choose: (label: string | RegExp, option: string) => act(page.getByLabel(label).selectOption(option)),
    file: (name: string, buffer: Buffer | string) =>
      act(
        page
          .locator('input[type=file]')
          .first()
          .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(buffer) }),
      ),
  }
}
