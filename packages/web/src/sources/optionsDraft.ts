import type { SourceOptionsBody } from '@culvert/contract'
import { printAmount, typedAmount } from '@culvert/core'

/** A source's options as they are edited: the tolerance as it is typed. */
export interface OptionsDraft extends Omit<SourceOptionsBody, 'taxTolerance'> {
  readonly taxTolerance: string
}

export const draftOf = (options: SourceOptionsBody, base: string, locale: string): OptionsDraft => ({
  ...options,
  taxTolerance: options.taxTolerance === null ? '' : printAmount(options.taxTolerance, base, locale),
})

/** The options that a draft says; null where its tolerance is no amount from zero on. An empty one: not checked. */
export const optionsIn = (draft: OptionsDraft, base: string, locale: string): SourceOptionsBody | null => {
  const text = draft.taxTolerance.trim()
  if (text === '') return { ...draft, taxTolerance: null }
  const parsed = typedAmount(text, base, locale)
  return parsed.ok && parsed.minor >= 0 ? { ...draft, taxTolerance: parsed.minor } : null
}

/** Adds a name to a list or takes it out, in the order of `all`. */
export const toggled = <Name extends string>(all: readonly Name[], list: readonly Name[], name: Name): Name[] =>
  all.filter(one => (one === name ? !list.includes(one) : list.includes(one)))

/** Names of the options that two states differ in. */
export const changedOptions = (before: SourceOptionsBody, after: SourceOptionsBody): (keyof SourceOptionsBody)[] =>
  (Object.keys(before) as (keyof SourceOptionsBody)[]).filter(
    name => JSON.stringify(before[name]) !== JSON.stringify(after[name]),
  )
