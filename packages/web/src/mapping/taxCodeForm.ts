import { type TaxCodeRow, taxCodeRow } from '@culvert/contract'
import { z } from 'zod'

const percent = z
  .string()
  .trim()
  .overwrite(text => text.replace(',', '.'))
  .regex(/^\d+(\.\d+)?$/, 'A percentage, like 13.5.')
const datedPercent = z.object({ from: z.iso.date(), percent })
const component = taxCodeRow.shape.components.element.extend({
  account: z.string().min(1, 'Choose an account.'),
  inputAccount: z
    .string()
    .nullable()
    .transform(account => account || null),
  rates: z.array(datedPercent).min(1),
})

/** Only tax that is paid can be taken back. */
export const canTakeBack = (code: Pick<TaxCodeRow, 'use' | 'reverseCharge'>): boolean =>
  code.use === 'purchases' || code.reverseCharge

/** A tax code as it is written, made into what is saved. */
export const taxCodeForm = taxCodeRow
  .extend({
    code: z.string().trim().min(1).max(40),
    name: z.string().trim().min(1).max(200),
    country: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^([A-Z]{2})?$/, 'Two letters, like IE.')
      .transform(country => country || null),
    treatment: taxCodeRow.shape.treatment.unwrap(),
    // Looked at only where it counts: of a code that takes nothing back nobody sees it.
    recovery: z.array(z.object({ from: z.string(), percent: z.string() })).max(100),
    components: z.array(component),
  })
  .transform((code, context): TaxCodeRow => {
    const recovery = z.array(datedPercent).safeParse(canTakeBack(code) ? code.recovery : [])
    for (const { path, message } of recovery.error?.issues ?? [])
      context.addIssue({ code: 'custom', path: ['recovery', ...path], message })
    return { ...code, recovery: recovery.data ?? [] }
  })

export type TaxCodeInput = z.input<typeof taxCodeForm>

/** What stands in the form of a code. */
export const inputOf = (code: TaxCodeRow): TaxCodeInput => ({ ...code, country: code.country ?? '' })
