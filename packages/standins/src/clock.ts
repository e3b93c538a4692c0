import { z } from 'zod'

const { CULVERT_CLOCK: at, CULVERT_CLOCK_SINCE: since } = z
  .object({
    CULVERT_CLOCK: z.iso.datetime({ offset: true }).optional(),
    CULVERT_CLOCK_SINCE: z.coerce.number().int().positive().optional(),
  })
  .parse(process.env)

/** What time it is: where data lives in another month, as late there as it is for whoever asks. Milliseconds since 1970. */
export const now = (): number => Date.now() + (at === undefined ? 0 : Date.parse(at) - (since ?? Date.now()))
