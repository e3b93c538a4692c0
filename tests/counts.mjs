// Prints "PASSED FAILED" of a runner's JSON report (Vitest or Playwright).
import { readFileSync } from 'node:fs'

const report = JSON.parse(readFileSync(process.argv[2], 'utf8'))
const passed = report.numPassedTests ?? report.stats.expected
const failed = report.numFailedTests ?? report.stats.unexpected + report.stats.flaky
console.log(passed, failed)
