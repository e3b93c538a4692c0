import type { MissingBank, MissingPage } from '@culvert/contract'
import { csvRecord, formatAmount, kinds, plainCell } from '@culvert/core'
import { accountChoice, type MissingDraft, type OwnSort, ownChoice, taxChoice } from './missingDraft.ts'
import { regionText } from './taxPlaceText.ts'

const columns = ['stage', 'missing', 'sources', 'currency', 'amount', 'lines', 'use', 'make', 'name', 'type'] as const

/** What is missing as CSV, with what stands chosen for it: to be gone through with somebody else. Amounts in base. */
export const missingCsv = (page: MissingPage, draft: MissingDraft): string => {
  const money = (minor: number) => formatAmount(minor, page.base)
  const own = (sort: OwnSort, stage: string, what: string) => (row: MissingBank) => {
    const choice = ownChoice(row, draft, sort)
    const made = choice.use === null ? [choice.code, plainCell(choice.name), choice.type] : ['', '', '']
    return [stage, what, plainCell(row.name), row.currency, money(row.amount), row.lines, choice.use ?? '', ...made]
  }
  const rows = [
    ...page.banks.map(own('bank', 'Bank', 'bank account')),
    ...page.clearings.map(own('clearing', 'Clearing', 'clearing account')),
    ...(page.rounding ? [own('rounding', 'Books', 'account for rounding')(page.rounding)] : []),
    ...page.accounts.map(row => {
      const choice = accountChoice(row, draft)
      const made = choice.use === null ? [choice.code, plainCell(choice.name), choice.type] : ['', '', '']
      const what = [kinds[row.kind].label, row.label].filter(Boolean).join(', ')
      const lines = row.sources.reduce((sum, one) => sum + one.lines, 0)
      const sources = row.sources.map(one => one.name).join(', ')
      return [
        'Mapping',
        plainCell(what),
        plainCell(sources),
        page.base,
        money(row.amount),
        lines,
        choice.use ?? '',
        ...made,
      ]
    }),
    ...page.taxes.map(row => {
      const choice = taxChoice(row, draft)
      const what = `tax of ${regionText(row.region)}${row.class === '' ? '' : `, ${row.class}`}`
      const made =
        choice.use === null && !choice.none
          ? [choice.code, plainCell(choice.name), `${choice.percentText} %`]
          : ['', '', '']
      const use = choice.none ? 'no tax' : (choice.use ?? '')
      return ['Tax', plainCell(what), row.sources.join(', '), page.base, money(row.amount), row.lines, use, ...made]
    }),
  ]
  return [columns, ...rows].map(row => csvRecord(row.map(String))).join('')
}
