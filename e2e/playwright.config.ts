import { defineConfig } from '@playwright/test'
import { chromium } from './browser.ts'
import { base, signedIn } from './signIn.ts'

export default defineConfig({
  testDir: '.',
  // One bookkeeper, one set of books: the files change what the next one finds.
  workers: 1,
  fullyParallel: false,
  timeout: 150_000,
  expect: { timeout: 25_000 },
  reporter: [['list'], ['json']],
  outputDir: `${process.env.BROWSED ?? '../.data'}/e2e-results`,
  globalSetup: './globalSetup.ts',
  use: {
    baseURL: base,
    storageState: signedIn,
    viewport: { width: 1280, height: 800 },
    launchOptions: chromium,
    // A trace of every act takes a third of the time: it is kept where one asks for it.
    trace: process.env.TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
  },
})
