/** Measures what stands between signing in and the first view: how long until it is there, with nothing kept from before, and the script on its path. */
import { chromium as playwright } from '@playwright/test'
import { chromium } from './browser.ts'
import { base, keepOrla } from './signIn.ts'

const storageState = await keepOrla()
const bars = { ms: 1000, kB: 300 }
const turns = 9

const median = (values: readonly number[]): number =>
  [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? Number.POSITIVE_INFINITY

const browser = await playwright.launch(chromium)
let missed = 0
for (const [name, path, table, first] of [
  ['the clients', '/', 'Clients', true],
  ['a list of settlements, with nothing kept', '/c/1/settlements', 'Settlements', false],
] as const) {
  const times: number[] = []
  let bytes = 0
  for (let turn = 0; turn < turns; turn++) {
    const context = await browser.newContext({ storageState, viewport: { width: 1280, height: 800 } })
    const page = await context.newPage()
    const start = performance.now()
    await page.goto(base + path)
    await page.getByRole('table', { name: table }).getByRole('row').nth(1).waitFor()
    times.push(performance.now() - start)
    bytes = await page.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .flatMap(entry =>
          entry instanceof PerformanceResourceTiming && /\.js(\?|$)/.test(entry.name) ? [entry.encodedBodySize] : [],
        )
        .reduce((sum, size) => sum + size, 0),
    )
    await context.close()
  }
  const ms = median(times.slice(1))
  const met = ms < bars.ms && bytes > 0 && bytes < bars.kB * 1000
  if (first && !met) missed++
  const bar = (value: number) => (first ? ` (bar ${value})` : '')
  console.log(
    `${first ? (met ? 'met    first view, of ' : 'MISSED first view, of ') : '       '}${name}: ${ms.toFixed(0)} ms, the longest of ${turns - 1} ${Math.max(...times.slice(1)).toFixed(0)} ms${bar(bars.ms)}; ${(bytes / 1000).toFixed(0)} kB of script as sent${bar(bars.kB)}`,
  )
}
await browser.close()
process.exitCode = missed === 0 ? 0 : 1
