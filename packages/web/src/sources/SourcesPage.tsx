import { Span } from '@chakra-ui/react'
import { type GrantEnd, type ServiceSort, type SourceRow, subjectKey } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { sourcesQuery } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { dateText, dayText, momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { CanBeAdded } from './CanBeAdded.tsx'
import { GrantsWaiting } from './GrantsWaiting.tsx'
import { endText } from './grantText.ts'
import { OtherConnections } from './OtherConnections.tsx'
import { isPulling, PullProgress, pullText } from './PullProgress.tsx'
import { sortText } from './serviceText.ts'
import { useSourceActs } from './sourceQueries.ts'
import { UnsourcedLabels } from './UnsourcedLabels.tsx'

const AddSource = lazy(() => import('./AddSource.tsx'))

/** All sources: how far they are known, what runs, what their last pull did. */
export const SourcesPage = () => {
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const notice = useNotice()
  const query = useQuery(sourcesQuery(clientId))
  const { data } = query
  const { pull } = useSourceActs(clientId)
  const [adding, setAdding] = useState<ServiceSort | null>(null)
  const columns: readonly SheetColumn<SourceRow>[] = [
    {
      id: 'name',
      head: 'Source',
      width: '130px',
      cell: row => <Span fontWeight="600">{row.name}</Span>,
      value: row => row.name,
    },
    { id: 'shape', head: 'Sort', width: '100px', cell: sortText, value: sortText },
    {
      id: 'grant',
      head: 'Grant',
      width: '140px',
      cell: row =>
        row.grant?.ended ? (
          <Span color="ochre" fontWeight="600">
            ◆ {endText[row.grant.ended as GrantEnd] ?? 'ended'}
          </Span>
        ) : (
          <Span color="muted">
            {row.grant
              ? `by ${row.grant.by ?? 'the owner'}, ${dayText(row.grant.grantedAt)}`
              : row.connected
                ? 'by a key'
                : 'by file'}
          </Span>
        ),
      value: row => row.grant?.grantedAt ?? '',
    },
    {
      id: 'until',
      head: 'Until',
      width: '100px',
      cell: row => (row.grant?.until && !row.grant.ended ? dateText(row.grant.until.slice(0, 10)) : '–'),
      value: row => row.grant?.until ?? null,
    },
    { id: 'first', head: 'Back to', width: '98px', cell: row => dateText(row.first), value: row => row.first },
    {
      id: 'to',
      head: 'Known to',
      width: '140px',
      cell: row => momentText(row.pulledTo, timeZone),
      value: row => row.pulledTo,
    },
    {
      id: 'lines',
      head: 'Lines',
      right: true,
      width: '76px',
      cell: row => row.lines.toLocaleString('en-IE'),
      value: row => row.lines,
    },
    {
      id: 'settlements',
      head: 'Settlements',
      right: true,
      width: '86px',
      cell: row => row.settlements,
      value: row => row.settlements,
    },
    {
      id: 'corrections',
      head: 'Corrected',
      right: true,
      width: '84px',
      cell: row =>
        row.corrections > 0 ? (
          <PageLink color="ochre" to={href('/settlements?state=corrected')}>
            {row.corrections}
          </PageLink>
        ) : (
          '–'
        ),
      value: row => row.corrections,
    },
    {
      id: 'last',
      head: 'Last pull',
      wraps: true,
      cell: row =>
        isPulling(row.lastPull) ? (
          <PullProgress pull={row.lastPull} />
        ) : row.lastPull ? (
          <Span color={row.lastPull.state === 'failed' ? 'crimson' : 'muted'}>
            {row.lastPull.state === 'failed' ? '▲ ' : ''}
            {pullText(row.lastPull)}
          </Span>
        ) : (
          ''
        ),
    },
    {
      id: 'act',
      head: '',
      width: '86px',
      cell: row =>
        row.connected && !row.grant?.ended ? (
          <Act
            right="bring"
            h="26px"
            disabled={isPulling(row.lastPull)}
            onClick={event => {
              event.stopPropagation()
              pull.mutate(row.source, { onError: notice.refuse })
            }}
          >
            Pull
          </Act>
        ) : null,
    },
  ]
  return (
    <Page
      of={query}
      links={
        <>
          <Link to={href('/sources')} aria-current="page">
            Sources
          </Link>
          <Link to={href('/sources/customers')}>Customers</Link>
        </>
      }
      title="Sources"
      facts={<span>what is pulled, from where, and how far it is known</span>}
      actions={
        <Act right="connect" variant="solid" onClick={() => setAdding('marketplace')}>
          Add a source by file
        </Act>
      }
    >
      {adding ? (
        <Suspense fallback={null}>
          <AddSource service={adding} onClose={() => setAdding(null)} />
        </Suspense>
      ) : null}
      <GrantsWaiting />
      <OtherConnections />
      <UnsourcedLabels onByFile={setAdding} />
      <SheetTable
        label="Sources"
        aboutOf={row => ({
          subject: 'source',
          key: subjectKey(row.source),
          title: row.name,
          link: `/sources/${row.source}`,
        })}
        columns={columns}
        rows={data?.sources ?? []}
        rowKey={row => row.source}
        to={row => href(`/sources/${row.source}`)}
        empty="No source yet. A source is a marketplace, web shop, till or gateway whose activity Culvert books."
      />
      <CanBeAdded onByFile={setAdding} />
    </Page>
  )
}
