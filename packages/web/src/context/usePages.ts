import type { ListPart } from '@culvert/contract'
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'

interface ListPage<Row> {
  readonly rows: readonly Row[]
  /** Whether there are rows after these. */
  readonly more: boolean
}

/** A part of a list as it is asked for: from a row on, and as it is arranged by the server. */
export type PartOf = Pick<ListPart, 'offset' | 'limit' | 'sort' | 'filter'>

interface PagesOf<Row, Page extends ListPage<Row>> {
  readonly queryKey: readonly unknown[]
  readonly load: (part: PartOf) => Promise<Page>
  readonly rowKey: (row: Row) => string
}

const partSize = 1000
/** ms without a letter after which what is typed is asked for. */
const typedFor = 250

/** A value as it was when it last stayed the same for a while. */
const useSettled = <Value>(value: Value): Value => {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const waiting = setTimeout(() => setSettled(value), typedFor)
    return () => clearTimeout(waiting)
  }, [value])
  return settled
}

const usePartly = <Row, Page extends ListPage<Row>>(
  { queryKey, load }: PagesOf<Row, Page>,
  arranged: Pick<PartOf, 'sort' | 'filter'> | null,
) =>
  useInfiniteQuery({
    queryKey: [...queryKey, arranged],
    queryFn: ({ pageParam }) => load({ offset: pageParam, limit: partSize, ...arranged }),
    initialPageParam: 0,
    getNextPageParam: (last: Page, all: Page[]) =>
      last.more ? all.reduce((count, page) => count + page.rows.length, 0) : undefined,
    placeholderData: keepPreviousData,
  })

/**
 * A list that is fetched part by part, further as more of it is wanted. As long as not all of it is here, sorting and filtering, as the address says
 * them, are the server's, and `arranged` says so. What came in between does not show a row twice.
 */
export const usePages = <Row, Page extends ListPage<Row>>(list: PagesOf<Row, Page>) => {
  const { rowKey } = list
  const [search] = useSearchParams()
  const plain = usePartly(list, null)
  const sort = search.get('sort') ?? ''
  const filter = useSettled(search.get('q')?.trim() ?? '')
  const isWanted = plain.hasNextPage && (sort !== '' || filter !== '')
  const wanted = isWanted ? { ...(sort ? { sort } : {}), ...(filter ? { filter } : {}) } : null
  const arranging = usePartly(list, wanted)
  const shown = isWanted ? arranging : plain
  // What was selected may stand in a part that came for another filter: it is known as long as it is the same list.
  const listed = JSON.stringify(list.queryKey)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another list begins anew
  const seen = useMemo(() => new Map<string, Row>(), [listed])
  const all = useMemo(() => {
    for (const page of [...(plain.data?.pages ?? []), ...(arranging.data?.pages ?? [])])
      for (const row of page.rows) seen.set(rowKey(row), row)
    return [...seen.values()]
  }, [plain.data, arranging.data, rowKey, seen])
  const rows = useMemo(() => uniqueRows(shown.data?.pages ?? [], rowKey), [shown.data, rowKey])
  return {
    /** The first part, as a query: what the list says of all of it. */
    first: {
      data: plain.data?.pages[0],
      error: shown.error ?? plain.error,
      isFetching: shown.isFetching,
      refetch: shown.refetch,
    },
    rows,
    /** Every row that has come so far, also those that are filtered out now. */
    known: all,
    arranged: isWanted,
    more: shown.hasNextPage || (isWanted && arranging.isPlaceholderData),
    loadMore: () => {
      if (shown.hasNextPage && !shown.isFetching) void shown.fetchNextPage()
    },
  }
}

const uniqueRows = <Row>(pages: readonly ListPage<Row>[], rowKey: (row: Row) => string): readonly Row[] => [
  ...new Map(pages.flatMap(page => page.rows).map(row => [rowKey(row), row])).values(),
]
