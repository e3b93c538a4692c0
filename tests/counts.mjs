// Of a runner's JSON report (Vitest or Playwright): "PASSED FAILED"; with --failed, what failed and with which words, a line each.
import { readFileSync } from 'node:fs'

const report = JSON.parse(readFileSync(process.argv[2], 'utf8'))

/** Vitest: files that could not be read or ended badly have no failed test. */
const ofVitest = () =>
  report.testResults.flatMap(({ name, status, message, assertionResults }) => {
    const failed = assertionResults.filter(test => test.status === 'failed')
    if (failed.length > 0) return failed.map(test => `${name}: ${test.fullName}: ${test.failureMessages[0] ?? ''}`)
    return status === 'failed' ? [`${name}: ${message}`] : []
  })

const ofPlaywright = suite => [
  ...(suite.suites ?? []).flatMap(ofPlaywright),
  ...(suite.specs ?? [])
    .filter(spec => !spec.ok || spec.tests.some(test => test.status === 'flaky'))
    .map(
      spec =>
        `${spec.file}: ${spec.title}: ${spec.tests[0]?.results.find(result => result.error)?.error?.message ?? ''}`,
    ),
]

if (process.argv[3] === '--failed') {
  const plain = new RegExp(`${String.fromCharCode(27)}\\[[0-9;]*m`, 'g')
  for (const line of report.testResults ? ofVitest() : ofPlaywright(report))
    console.log(line.replace(plain, '').replace(/\s+/g, ' ').slice(0, 500))
} else {
  const passed = report.numPassedTests ?? report.stats.expected
  const failed = report.numFailedTests ?? report.stats.unexpected + report.stats.flaky
  console.log(passed, failed)
}
