import { ruleAction, ruleCondition } from '@culvert/contract'
import { dateBases, treatments } from '@culvert/core'
import { is, Unread } from '../database/rows.ts'

// How the parts of the setup are read, from their tables and from the versions that are kept for good.

const maybeText = is.optional(is.maybe(is.text))
const rates = is.list(is.record({ from: is.text, percent: is.text }))

export const routeShape = {
  id: is.whole,
  kind: is.kind,
  source: maybeText,
  category: maybeText,
  sku: maybeText,
  location: maybeText,
  gateway: maybeText,
  method: maybeText,
  region: maybeText,
  taxLabel: maybeText,
  from: is.maybe(is.text),
  account: is.maybe(is.text),
  item: maybeText,
  elsewhere: is.optional(is.yes),
  charge: is.optional(is.yes),
  taxCode: is.maybe(is.text),
  segments: is.dict(is.text),
  block: is.yes,
}

export const taxCodeShape = {
  code: is.text,
  name: is.text,
  treatment: is.oneOf(...treatments),
  basis: is.oneOf('inclusive', 'exclusive', 'none'),
  use: is.oneOf('sales', 'purchases'),
  reverseCharge: is.yes,
  components: is.list(
    is.record({ name: is.text, account: is.text, inputAccount: is.maybe(is.text), compound: is.yes, rates }),
  ),
  country: maybeText,
  recovery: is.optional(rates),
}

export const ruleShape = {
  id: is.whole,
  conditions: is.list(is.by(ruleCondition)),
  actions: is.list(is.by(ruleAction)),
}

export const itemShape = {
  code: is.text,
  name: is.text,
  otherNames: is.list(is.text),
  account: is.text,
  taxCode: is.maybe(is.text),
  costs: is.list(is.record({ from: is.text, cost: is.minor })),
}

export const taxRowShape = {
  id: is.whole,
  source: is.maybe(is.text),
  kind: is.maybe(is.kind),
  label: is.maybe(is.text),
  region: is.maybe(is.text),
  class: is.maybe(is.text),
  from: is.maybe(is.text),
  code: is.maybe(is.text),
}

export const classShape = { sku: is.maybe(is.text), category: is.maybe(is.text), class: is.text }

/** Options as they are kept: one that was not known when they were saved is missing, and has its default. */
export const optionsShape = {
  splitAtMonthEnd: is.optional(is.yes),
  taxRounding: is.optional(is.oneOf('bucket', 'line')),
  detail: is.optional(is.list(is.oneOf('category', 'sku', 'location'))),
  taxTolerance: is.optional(is.maybe(is.minor)),
  payoutsLeaveBalance: is.optional(is.oneOf('sent', 'arrived')),
  reservesStayOnBalance: is.optional(is.yes),
  stockPayable: is.optional(is.maybe(is.text)),
  bookPending: is.optional(is.yes),
  ancillaryFollows: is.optional(is.yes),
  refundFollows: is.optional(is.yes),
  place: is.optional(is.maybe(is.text)),
  dateBasis: is.optional(is.oneOf(...dateBases)),
  bookedFrom: is.optional(is.maybe(is.date)),
  cutOff: is.optional(is.maybe(is.text)),
  timeZone: is.optional(is.maybe(is.text)),
}

const taxCode = is.record(taxCodeShape)
/** Tax codes were kept without a treatment once: all of them were plainly taxed then. */
const keptTaxCode: typeof taxCode = value =>
  taxCode(typeof value === 'object' && value !== null ? { treatment: 'taxed', ...value } : value)

/** An account as it decides bookings. */
export const accountShape = { code: is.text, name: is.text, type: is.accountType, currency: is.text, archived: is.yes }

/** A source as it decides bookings. */
export const sourceShape = {
  source: is.text,
  name: is.text,
  shape: is.oneOf('combined', 'channel', 'gateway'),
  options: is.record(optionsShape),
  bankTexts: is.list(is.text),
}
export const clearingShape = { source: is.text, currency: is.text, account: is.text }
export const bankShape = { source: is.text, direction: is.text, currency: is.text, region: is.text, account: is.text }

/** Facts of a client that decide bookings. */
export const factsShape = {
  base: is.text,
  time_zone: is.text,
  cut_off: is.text,
  exchange_rounding: is.maybe(is.text),
  exchange_difference: is.maybe(is.text),
  fiscal_start: is.whole,
}

/** The shape in which what decides bookings besides the map is kept from now on. */
export const keptShapeNumber = 1

const keptReaders = new Map([
  [
    1,
    is.record({
      facts: is.record(factsShape),
      accounts: is.list(is.record(accountShape)),
      sources: is.list(is.record(sourceShape)),
      clearing: is.list(is.record(clearingShape)),
      banks: is.list(is.record(bankShape)),
    }),
  ],
])
const shapeOf = is.record({ shape: is.whole })

/** Reads what a version of the setup kept besides its map, by the shape that it was kept in. @throws Unread for a shape that is not known */
const kept = (value: unknown) => {
  const { shape } = shapeOf(value)
  const read = keptReaders.get(shape)
  if (!read) throw new Unread(`a setup of shape ${shape} is not known; it was kept by a later version`)
  return read(value)
}

export const stored = {
  kept,
  route: is.record(routeShape),
  rule: is.record(ruleShape),
  taxCode,
  keptTaxCode,
  item: is.record(itemShape),
  taxRow: is.record(taxRowShape),
  classEntry: is.record(classShape),
  options: is.record(optionsShape),
}
