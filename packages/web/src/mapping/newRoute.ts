import type { RouteBody } from '@culvert/contract'
import type { Kind } from '@culvert/core'

/** A route of a kind that names nothing else yet. */
export const newRoute = (kind: Kind): RouteBody => ({
  routeId: null,
  kind,
  source: null,
  category: null,
  sku: null,
  location: null,
  gateway: null,
  method: null,
  region: null,
  taxLabel: null,
  from: null,
  account: null,
  item: null,
  elsewhere: false,
  charge: false,
  taxCode: null,
  segments: {},
  block: false,
  reason: '',
})
