import type { ClassBody, TaxDoubt, TaxGridPage, TaxRowBody } from '@culvert/contract'
import { fewerRows, type GridPlace, gridPeriods, setCell } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useMappingActs } from './mappingQueries.ts'

/** A cell of the grid that is worked on. */
export interface CellAt extends GridPlace {
  readonly class: string
}

/** What a cell is set to: a code or no tax on purpose (null), and why where it is another country's. */
export interface CellCode {
  readonly code: string | null
  readonly reason: string
}

type Part = Pick<TaxGridPage, 'rows' | 'classes'>
const same = (one: Part, other: Part): boolean =>
  JSON.stringify([one.rows, one.classes]) === JSON.stringify([other.rows, other.classes])

/** Names what is to be decided, so that a decision stays with it. */
export const doubtKey = (doubt: TaxDoubt): string => JSON.stringify([doubt.route, doubt.place, doubt.today])

/** Keeps the code that a route gives today for just its place: a row that names all of it goes before every other. */
const rowAsToday = ({ place, today }: TaxDoubt): TaxRowBody => ({
  id: null,
  source: place.source,
  kind: place.kind,
  label: place.label,
  region: place.region,
  class: place.class || null,
  from: place.from,
  code: today,
  reason: '',
})

/** The grid as it is changed on the page: nothing is saved before it is asked for, and what others save meanwhile is told, not overwritten. */
export const useTaxDraft = (page: TaxGridPage) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { saveTaxRows } = useMappingActs(clientId)
  const [begun, setBegun] = useState(page)
  const [part, setPart] = useState<Part>(page)
  const [decided, setDecided] = useState<ReadonlyMap<string, 'today' | 'rows'>>(new Map())
  const mine = !same(part, begun)
  const moved = page.version !== begun.version && !same(page, begun)
  const takeTheirs = (): void => {
    setBegun(page)
    setPart(page)
  }
  if (page.version !== begun.version && (!mine || !moved)) {
    setBegun(page)
    if (!mine) setPart(page)
  }
  const periods = gridPeriods(part.rows)
  const [wanted, setSince] = useState<string | null | undefined>(undefined)
  // The period that the last lines are of, unless another is looked at.
  const latest = [...periods].reverse().find(day => page.to !== null && day <= page.to) ?? null
  const since = wanted === undefined ? latest : wanted
  const set = (cells: readonly CellAt[], to: CellCode | undefined): void =>
    setPart(before => ({
      ...before,
      rows: cells.reduce<readonly TaxRowBody[]>(
        (rows, at) => setCell<TaxRowBody>(rows, { ...at, since }, to && { id: null, ...to }),
        before.rows,
      ) as TaxRowBody[],
    }))
  const open = page.doubts.filter(doubt => !decided.has(doubtKey(doubt)))
  const rowsToSave = (): TaxRowBody[] => [
    ...part.rows,
    ...page.doubts.filter(doubt => decided.get(doubtKey(doubt)) === 'today' && doubt.by === null).map(rowAsToday),
  ]
  const save = (): void => {
    if (saveTaxRows.isPending) return
    const byRows = page.byRows || open.length === 0
    saveTaxRows.mutate(
      {
        rows: page.byRows ? rowsToSave() : [...fewerRows(unlike(rowsToSave()))],
        classes: [...part.classes],
        version: page.version,
        byRows,
      },
      {
        onError: notice.refuse,
        onSuccess: ({ version, unblocked }) => {
          setBegun({ ...page, ...part, version })
          notice.say(
            byRows
              ? `Saved as version ${version} of the map. ${countText(unblocked, 'settlement')} no longer blocked; what is posted stays as it is.`
              : `Saved as version ${version}. The routes still decide tax, until the rest is decided.`,
          )
        },
      },
    )
  }
  return {
    ...{ rows: part.rows, classes: part.classes, since, periods, setSince, set, save, takeTheirs, open, decided },
    changed: mine,
    moved: moved && mine,
    keepMine: () => setBegun(page),
    forget: () => setPart(page),
    isSaving: saveTaxRows.isPending,
    setClass: (of: { sku: string | null; category: string | null }, name: string) =>
      setPart(before => ({ ...before, classes: withClass(before.classes, of, name) as ClassBody[] })),
    decide: (doubts: readonly TaxDoubt[], to: 'today' | 'rows') =>
      setDecided(before => new Map([...before, ...doubts.map(doubt => [doubtKey(doubt), to] as const)])),
  }
}

/** Two doubts may be of one place: it is kept once. */
const unlike = (rows: readonly TaxRowBody[]): TaxRowBody[] => {
  const seen = new Map<string, TaxRowBody>()
  for (const row of rows)
    seen.set(JSON.stringify([row.source, row.kind, row.label, row.region, row.class, row.from]), row)
  return [...seen.values()]
}

/** Says of a category or SKU which class its goods are of; an empty name: of none. */
export const withClass = (
  classes: readonly ClassBody[],
  of: { readonly sku: string | null; readonly category: string | null },
  name: string,
): readonly ClassBody[] => {
  const named = of.sku ? { sku: of.sku, category: null } : { sku: null, category: of.category }
  const others = classes.filter(
    entry => (entry.sku ?? null) !== named.sku || (entry.category ?? null) !== named.category,
  )
  return name.trim() === '' ? others : [...others, { ...named, class: name.trim() }]
}
