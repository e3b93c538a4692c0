import { typedAmount } from '@culvert/core'

/** What is typed for an account, on one of the two sides. */
export interface OpeningTyped {
  readonly debit: string
  readonly credit: string
}
export type OpeningDraft = Readonly<Record<string, OpeningTyped>>

export const blankTyped: OpeningTyped = { debit: '', credit: '' }

/** An amount as it is typed; null where the field is empty. */
const amountOf = (text: string, currency: string, locale: string) =>
  text.trim() === '' ? null : typedAmount(text, currency, locale)

/** What a draft comes to: lines in minor units (plus is a debit), the sums of both sides, and the accounts whose text is no amount. */
export const openingOf = (
  draft: OpeningDraft,
  currency: string,
  locale: string,
): {
  readonly lines: readonly { readonly account: string; readonly amount: number }[]
  readonly debit: number
  readonly credit: number
  readonly wrong: ReadonlySet<string>
} => {
  const wrong = new Set<string>()
  const lines: { account: string; amount: number }[] = []
  let [debit, credit] = [0, 0]
  for (const [account, typed] of Object.entries(draft)) {
    const [left, right] = [amountOf(typed.debit, currency, locale), amountOf(typed.credit, currency, locale)]
    if ((left && !left.ok) || (right && !right.ok)) {
      wrong.add(account)
      continue
    }
    const [plus, minus] = [left?.ok ? left.minor : 0, right?.ok ? right.minor : 0]
    debit += plus
    credit += minus
    if (plus !== minus) lines.push({ account, amount: plus - minus })
  }
  return { lines, debit, credit, wrong }
}
