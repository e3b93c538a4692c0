import { countWaiting as bank } from './bank/countToPair.ts'
import { pullBanks } from './bank/startPull.ts'
import { countWaiting as books } from './books/countWaiting.ts'
import { countWaiting as clearing } from './clearing/countWaiting.ts'
import { unprovedAt } from './clearing/loadProof.ts'
import { consentedLock } from './close/consented.ts'
import { countWaiting as close } from './close/countWaiting.ts'
import type { MonthChecks } from './close/loadMonthState.ts'
import type { Consentables } from './consents/consentable.ts'
import { type Counters, reading } from './course/stages.ts'
import type { Pullers } from './jobs/pullers.ts'
import { countWaiting as mapping } from './mapping/countWaiting.ts'
import { taxOffIn } from './mapping/loadTaxCheck.ts'
import { consentedDecisions } from './payments/consented.ts'
import { countWaiting as payments } from './payments/countWaiting.ts'
import { consentedCorrection, consentedPosting, consentedTakingBack } from './settlements/consented.ts'
import { countWaiting as settlements } from './settlements/countWaiting.ts'
import { countWaiting as sources } from './sources/countWaiting.ts'
import { pullSources } from './sources/startPull.ts'

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

/** What can be done with another's consent, as the stages say that do it. */
export const consentables: Consentables = {
  post: consentedPosting,
  take_back: consentedTakingBack,
  correct: consentedCorrection,
  decide_payments: consentedDecisions,
  lock: consentedLock({ unproved: unprovedAt, taxOff: taxOffIn }),
}

/** What other stages say of a month before it is closed. */
export const monthChecks: MonthChecks = { unproved: unprovedAt, taxOff: taxOffIn }

/** What each stage pulls of a client. */
export const pullers: Pullers = [pullSources, pullBanks]
