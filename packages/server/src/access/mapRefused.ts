import type { ClassFault, RouteFault, RuleFault, TaxCodeFault, TaxRowFault } from '@culvert/core'

/** What a part of the map was refused for. */
export type MapFaults =
  | { readonly of: 'routes'; readonly faults: readonly RouteFault[] }
  | { readonly of: 'rules'; readonly faults: readonly RuleFault[] }
  | { readonly of: 'taxCodes'; readonly faults: readonly TaxCodeFault[] }
  | { readonly of: 'taxRows'; readonly faults: readonly TaxRowFault[] }
  | { readonly of: 'classes'; readonly faults: readonly ClassFault[] }

/** Routes, rules or tax codes that cannot be saved, with every fault. */
export class MapRefused extends Error {
  override readonly name = 'MapRefused'
  readonly found: MapFaults

  constructor(found: MapFaults) {
    super(`${found.of} refused`)
    this.found = found
  }
}
