import { useEffect, useState } from 'react'
import { useLocation } from 'react-router'

/** What was selected, by the entry of the browser's history that it was selected at; the latest of many. */
const kept = new Map<string, ReadonlySet<string>>()
const keptAtMost = 50

/** Which rows of a list are selected, by their keys: still so when one comes back to it. */
export const useKeptSelection = (): readonly [ReadonlySet<string>, (keys: ReadonlySet<string>) => void] => {
  const { key } = useLocation()
  const [selected, setSelected] = useState<ReadonlySet<string>>(() => kept.get(key) ?? new Set())
  useEffect(() => {
    kept.delete(key)
    if (selected.size > 0) kept.set(key, selected)
    for (const oldest of kept.keys()) {
      if (kept.size <= keptAtMost) break
      kept.delete(oldest)
    }
  }, [key, selected])
  return [selected, setSelected]
}
