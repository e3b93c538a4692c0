import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { useMemo } from 'react'

interface ListPage<Row> {
  readonly rows: readonly Row[]
  /** Whether there are rows after these. */
  readonly more: boolean
}

interface PagesOf<Row, Page extends ListPage<Row>> {
  readonly queryKey: readonly unknown[]
  /** Asks for the rows from a place on. */
  readonly load: (offset: number) => Promise<Page>
  readonly rowKey: (row: Row) => string
}

/** A list that is fetched part by part, further as more of it is wanted. What came in between does not show a row twice. */
export const usePages = <Row, Page extends ListPage<Row>>({ queryKey, load, rowKey }: PagesOf<Row, Page>) => {
  const query = useInfiniteQuery({
    queryKey,
    queryFn: ({ pageParam }) => load(pageParam),
    initialPageParam: 0,
    getNextPageParam: (last: Page, all: Page[]) =>
      last.more ? all.reduce((count, page) => count + page.rows.length, 0) : undefined,
    placeholderData: keepPreviousData,
  })
  const { data, error, isFetching, refetch, hasNextPage, fetchNextPage } = query
  const rows = useMemo(
    () => [...new Map((data?.pages ?? []).flatMap(page => page.rows).map(row => [rowKey(row), row])).values()],
    [data, rowKey],
  )
  return {
    /** The first part, as a query: what the list says of all of it. */
    first: { data: data?.pages[0], error, isFetching, refetch },
    rows,
    more: hasNextPage,
    loadMore: () => {
      if (hasNextPage && !isFetching) void fetchNextPage()
    },
  }
}
