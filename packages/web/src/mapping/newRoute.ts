import { type RouteBody, routeBody } from '@culvert/contract'
import type { Kind } from '@culvert/core'

/** A route of a kind that names nothing else yet. */
export const newRoute = (kind: Kind): RouteBody =>
  routeBody.parse({ routeId: null, kind, account: null, taxCode: null })
