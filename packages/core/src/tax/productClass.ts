/** Says of a SKU, or of a category, which class its tax is decided by; one of the two is named. */
export interface ClassEntry {
  readonly sku?: string | null
  readonly category?: string | null
  readonly class: string
}

/** Classes made ready for asking. */
export interface ClassBook {
  readonly entries: readonly ClassEntry[]
  /** The class of what names a SKU or a category: the SKU's, else the category's, else empty. */
  classOf(product: { readonly sku: string | null; readonly category: string | null }): string
}

export const classBook = (entries: readonly ClassEntry[]): ClassBook => {
  const bySku = new Map(entries.flatMap(entry => (entry.sku ? [[entry.sku, entry.class] as const] : [])))
  const byCategory = new Map(
    entries.flatMap(entry => (!entry.sku && entry.category ? [[entry.category, entry.class] as const] : [])),
  )
  return { entries, classOf: ({ sku, category }) => bySku.get(sku ?? '') ?? byCategory.get(category ?? '') ?? '' }
}

export type ClassFault =
  | { readonly code: 'alike'; readonly entry: number; readonly other: number }
  /** An entry names a SKU or a category, and not both. */
  | { readonly code: 'names_one'; readonly entry: number }

/** Finds every fault of a set of entries, by their place. */
export const checkClasses = (entries: readonly ClassEntry[]): ClassFault[] => {
  const seen = new Map<string, number>()
  return entries.flatMap((entry, place): ClassFault[] => {
    if (Boolean(entry.sku) === Boolean(entry.category)) return [{ code: 'names_one', entry: place }]
    const key = JSON.stringify([entry.sku || null, entry.category || null])
    const other = seen.get(key)
    if (other !== undefined) return [{ code: 'alike', entry: place, other }]
    seen.set(key, place)
    return []
  })
}
