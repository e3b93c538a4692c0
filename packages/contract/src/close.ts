import { z } from 'zod'
import { minor, month } from './shared.ts'

export const closeMonth = z.object({
  month,
  locked: z.boolean(),
  blocked: z.number(),
  proposed: z.number(),
  unpaired: z.number(),
  corrections: z.number(),
  waitingAmount: minor,
  ready: z.boolean(),
})
export type CloseMonth = z.infer<typeof closeMonth>
export const closePage = z.object({ months: z.array(closeMonth) })
export type ClosePage = z.infer<typeof closePage>
export const lockBody = z.object({ month, locked: z.boolean() })
