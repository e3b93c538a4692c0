import type { SourceOptionsBody } from '@culvert/contract'

/** Adds a name to a list or takes it out, in the order of `all`. */
export const toggled = <Name extends string>(all: readonly Name[], list: readonly Name[], name: Name): Name[] =>
  all.filter(one => (one === name ? !list.includes(one) : list.includes(one)))

/** Names of the options that two states differ in. */
export const changedOptions = (
  before: SourceOptionsBody,
  after: Partial<SourceOptionsBody>,
): (keyof SourceOptionsBody)[] =>
  (Object.keys(before) as (keyof SourceOptionsBody)[]).filter(
    name => JSON.stringify(before[name]) !== JSON.stringify(after[name]),
  )
