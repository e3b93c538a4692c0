import { openingBody } from '@culvert/contract'
import { typedAmount } from '@culvert/core'
import { z } from 'zod'

/** What is typed for an account, on one of the two sides. */
const typedLine = z.object({ account: z.string(), debit: z.string(), credit: z.string() })
export type TypedLine = z.infer<typeof typedLine>

const sides = ['debit', 'credit'] as const
type Side = (typeof sides)[number]

/** An amount as it is typed; null where the field is empty. */
const amountOf = (text: string, currency: string, locale: string) =>
  text.trim() === '' ? null : typedAmount(text, currency, locale)

/** What is typed comes to: lines in minor units (plus is a debit), the sums of both sides, and the fields that hold no amount, by place and side. */
export const openingOf = (
  typed: readonly TypedLine[],
  currency: string,
  locale: string,
): {
  readonly lines: readonly { readonly account: string; readonly amount: number }[]
  readonly debit: number
  readonly credit: number
  readonly wrong: readonly (readonly [number, Side])[]
} => {
  const wrong: [number, Side][] = []
  const lines: { account: string; amount: number }[] = []
  let [debit, credit] = [0, 0]
  typed.forEach((line, place) => {
    const read = sides.map(side => [side, amountOf(line[side], currency, locale)] as const)
    const unread = read.filter(([, amount]) => amount !== null && !amount.ok)
    for (const [side] of unread) wrong.push([place, side])
    if (unread.length > 0) return
    const [plus = 0, minus = 0] = read.map(([, amount]) => (amount?.ok ? amount.minor : 0))
    debit += plus
    credit += minus
    if (plus !== minus) lines.push({ account: line.account, amount: plus - minus })
  })
  return { lines, debit, credit, wrong }
}

/** What still keeps opening balances from being posted; null: nothing. */
export const missingOf = ({ lines, debit, credit, wrong }: ReturnType<typeof openingOf>): string | null => {
  if (wrong.length > 0) return `${wrong.length === 1 ? 'a field holds' : `${wrong.length} fields hold`} no amount`
  if (lines.length < 2) return 'at least two accounts hold something'
  return debit === credit ? null : 'both sides must come to the same'
}

/** The form of opening balances: amounts as the client writes them, made into what is posted. */
export const openingForm = (currency: string, locale: string) =>
  z
    .object({ date: openingBody.shape.date, typed: z.array(typedLine) })
    .superRefine(({ typed }, context) => {
      const read = openingOf(typed, currency, locale)
      for (const [place, side] of read.wrong)
        context.addIssue({ code: 'custom', path: ['typed', place, side], message: 'No amount.' })
      const missing = missingOf(read)
      if (missing !== null && read.wrong.length === 0)
        context.addIssue({ code: 'custom', path: ['typed'], message: missing })
    })
    .transform(({ date, typed }) => ({ date, lines: [...openingOf(typed, currency, locale).lines] }))
