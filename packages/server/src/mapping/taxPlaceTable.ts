import type { SupplySums } from '@culvert/core'

/** Where a supply’s tax is due, as a key. */
export const placeKey = (place: Pick<SupplySums, 'currency' | 'region' | 'class' | 'since'>): string =>
  JSON.stringify([place.currency, place.region, place.class, place.since])

/** Sums by place, of several maps added up. */
export class PlaceTable extends Map<string, SupplySums> {
  add(sums: readonly SupplySums[]): void {
    for (const one of sums) {
      const before = this.get(placeKey(one))
      this.set(
        placeKey(one),
        before
          ? {
              ...before,
              lines: before.lines + one.lines,
              base: before.base + one.base,
              tax: before.tax + one.tax,
              stated: before.stated === null && one.stated === null ? null : (before.stated ?? 0) + (one.stated ?? 0),
              codes: [...new Set([...before.codes, ...one.codes])].sort(),
              open: before.open + one.open,
              foreign: before.foreign + one.foreign,
            }
          : one,
      )
    }
  }
}
