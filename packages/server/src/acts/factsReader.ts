import { z } from 'zod'
import { is } from '../database/rows.ts'

/** Reads what is kept of an object before or after an act. */
export const factsReader = is.by(z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()])))
