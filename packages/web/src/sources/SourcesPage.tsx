import type { SourceRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { sourcesQuery } from '../context/sharedQueries.ts'
import { Button } from '../ui/Button.tsx'
import { dateText, momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { type SheetColumn, SheetTable } from '../ui/SheetTable.tsx'
import { isPulling, PullProgress, pullText } from './PullProgress.tsx'
import { useSourceActs } from './sourceQueries.ts'

const shapes: Record<SourceRow['shape'], string> = { combined: 'marketplace', channel: 'channel', gateway: 'gateway' }

/** All sources: how far they are known, what runs, what their last pull did. */
export const SourcesPage = () => {
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const { data, error } = useQuery(sourcesQuery(clientId))
  const { pull } = useSourceActs(clientId)
  const columns: readonly SheetColumn<SourceRow>[] = [
    {
      id: 'name',
      head: 'Source',
      width: '130px',
      cell: row => (
        <Link className="strong" to={href(`/sources/${row.source}`)}>
          {row.name}
        </Link>
      ),
      value: row => row.name,
    },
    { id: 'shape', head: 'Sort', width: '110px', cell: row => shapes[row.shape], value: row => row.shape },
    { id: 'first', head: 'From', width: '108px', cell: row => dateText(row.first), value: row => row.first },
    {
      id: 'to',
      head: 'Known to',
      width: '150px',
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
      width: '92px',
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
          <Link className="ochre" to={href('/settlements?state=corrected')}>
            {row.corrections}
          </Link>
        ) : (
          '–'
        ),
      value: row => row.corrections,
    },
    {
      id: 'last',
      head: 'Last pull',
      cell: row =>
        isPulling(row.lastPull) ? (
          <PullProgress pull={row.lastPull} />
        ) : row.lastPull ? (
          <span className={row.lastPull.state === 'failed' ? 'crimson' : 'muted'}>
            {row.lastPull.state === 'failed' ? '▲ ' : ''}
            {pullText(row.lastPull)}
          </span>
        ) : (
          ''
        ),
    },
    {
      id: 'act',
      head: '',
      width: '86px',
      cell: row =>
        row.connected ? (
          <Button
            h="26px"
            disabled={isPulling(row.lastPull)}
            onClick={event => {
              event.stopPropagation()
              pull.mutate(row.source, { onError: notice.refuse })
            }}
          >
            Pull
          </Button>
        ) : (
          <span className="muted small">by file</span>
        ),
    },
  ]
  return (
    <Page
      title="Sources"
      facts={
        error ? (
          <span className="crimson">{error.message}</span>
        ) : (
          <span>what is pulled, from where, and how far it is known</span>
        )
      }
    >
      <SheetTable
        label="Sources"
        columns={columns}
        rows={data?.sources ?? []}
        rowKey={row => row.source}
        onOpen={row => void navigate(href(`/sources/${row.source}`))}
        empty="No source yet. A source is a marketplace, web shop, till or gateway whose activity Culvert books."
      />
    </Page>
  )
}
