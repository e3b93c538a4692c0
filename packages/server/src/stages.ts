import { countWaiting as bank } from './bank/countToPair.ts'
import { countWaiting as books } from './books/countWaiting.ts'
import { countWaiting as clearing } from './clearing/countWaiting.ts'
import { unprovedAt } from './clearing/loadProof.ts'
import { countWaiting as close } from './close/countWaiting.ts'
import type { MonthChecks } from './close/loadMonthState.ts'
import { type Counters, reading } from './course/stages.ts'
import { countWaiting as mapping } from './mapping/countWaiting.ts'
import { taxOffIn } from './mapping/loadTaxCheck.ts'
import { countWaiting as payments } from './payments/countWaiting.ts'
import { countWaiting as settlements } from './settlements/countWaiting.ts'
import { countWaiting as sources } from './sources/countWaiting.ts'

/** What each stage says of itself to the course, which knows none of them. */
export const counters: Counters = {
  sources: reading(sources),
  mapping: reading(mapping),
  settlements: reading(settlements),
  payments: reading(payments),
  clearing: reading(clearing),
  bank,
  books: reading(books),
  close: reading(close),
}

/** What other stages say of a month before it is closed. */
export const monthChecks: MonthChecks = { unproved: unprovedAt, taxOff: taxOffIn }
