import { useRef } from 'react'

interface SelectionOf<Row> {
  readonly shown: readonly Row[]
  readonly keyOf: (row: Row) => string
  readonly selected: ReadonlySet<string> | undefined
  readonly onSelect: ((keys: ReadonlySet<string>) => void) | undefined
  readonly selectable: ((row: Row) => boolean) | undefined
}

/** What can be selected of the rows that are shown: one, all, or with shift from the last one on. */
export const useSelection = <Row>({ shown, keyOf, selected, onSelect, selectable }: SelectionOf<Row>) => {
  const last = useRef<string | null>(null)
  const can = (row: Row): boolean => onSelect !== undefined && (selectable?.(row) ?? true)
  const free = shown.filter(can)
  const all = free.length > 0 && free.every(row => selected?.has(keyOf(row)))
  const toggle = (row: Row, ranging = false): void => {
    if (!can(row) || !onSelect) return
    const next = new Set(selected)
    const on = !next.has(keyOf(row))
    const places = [last.current, keyOf(row)].map(key => shown.findIndex(one => keyOf(one) === key))
    const [from = 0, to = 0] = places.sort((left, right) => left - right)
    const range = ranging && from >= 0 ? shown.slice(from, to + 1).filter(can) : [row]
    for (const one of range)
      if (on) next.add(keyOf(one))
      else next.delete(keyOf(one))
    last.current = keyOf(row)
    onSelect(next)
  }
  return {
    can,
    toggle,
    all,
    none: free.length === 0,
    toggleAll: () => onSelect?.(new Set(all ? [] : free.map(keyOf))),
  }
}
