import type { Setup } from './setup.ts'

/** Days on which a rate or a tax row begins, in order: between two of them nothing about the tax of supplies changes. */
export const taxPeriods = (setup: Setup): readonly string[] => {
  const rates = [...setup.taxCodes.values()].flatMap(code =>
    code.components.flatMap(one => one.rates.map(rate => rate.from)),
  )
  return inOrder([...rates, ...(setup.taxRows?.rows ?? []).flatMap(row => row.from ?? [])])
}

/**
 * Days on which a route, a tax row, a rate or a recovery begins, in order: two lines alike but for their days, of one month and between two of
 * these, are booked alike. Rules that look at days are not in it.
 */
export const changeDays = (setup: Setup): readonly string[] => {
  const recoveries = [...setup.taxCodes.values()].flatMap(code => (code.recovery ?? []).map(one => one.from))
  return inOrder([...taxPeriods(setup), ...recoveries, ...setup.routes.routes.flatMap(route => route.from ?? [])])
}

const inOrder = (days: readonly string[]): readonly string[] => [...new Set(days)].sort()
