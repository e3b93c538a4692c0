import type { NextFunction, Request, Response } from 'express'
import { z } from 'zod'

/** Switches for what real services do wrong. Zero: never; n: every nth request. */
export const faultSwitches = z.object({
  slowMs: z.number().int().min(0).max(10_000).default(0),
  tooManyEvery: z.number().int().min(0).default(0),
  failEvery: z.number().int().min(0).default(0),
  cutOffEvery: z.number().int().min(0).default(0),
  repeatPageEvery: z.number().int().min(0).default(0),
  shuffle: z.boolean().default(false),
  expireTokenEvery: z.number().int().min(0).default(0),
  /** After the last page comes another, and another. */
  endless: z.boolean().default(false),
})
export type FaultSwitches = z.infer<typeof faultSwitches>

export const noFaults: FaultSwitches = faultSwitches.parse({})

/** Counts requests and misbehaves as the switches say. */
export const misbehave = (switches: () => FaultSwitches) => {
  let count = 0
  return (_request: Request, response: Response, next: NextFunction): void => {
    const faults = switches()
    count++
    const due = (every: number) => every > 0 && count % every === 0
    const proceed = (): void => {
      if (due(faults.tooManyEvery)) response.status(429).setHeader('retry-after', '1').json({ error: 'slower, please' })
      else if (due(faults.failEvery)) response.status(500).json({ error: 'out of order' })
      else if (due(faults.cutOffEvery)) {
        response.writeHead(200, { 'content-type': 'application/json' })
        response.write('{"lines":[{"line_id":"cut')
        response.destroy()
      } else next()
    }
    if (faults.slowMs > 0) setTimeout(proceed, faults.slowMs)
    else proceed()
  }
}
