import { Box, Flex, Span } from '@chakra-ui/react'
import { type PullRow, subjectKey } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { pullsQuery, sourcesQuery } from '../context/sharedQueries.ts'
import { OwnFormats } from '../files/OwnFormats.tsx'
import { TakeImportBack } from '../files/TakeImportBack.tsx'
import { useBring } from '../files/useBring.ts'
import { AboutButton } from '../ui/AboutButton.tsx'
import { Act } from '../ui/Act.tsx'
import { FileButton } from '../ui/FileButton.tsx'
import { countText, momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { ConnectionPart } from './ConnectionPart.tsx'
import { CutOverPart } from './CutOverPart.tsx'
import { isPulling, PullProgress, pullText } from './PullProgress.tsx'
import { RowsAside } from './RowsAside.tsx'
import { useSourceActs } from './sourceQueries.ts'

const SourceSettings = lazy(() => import('./SourceSettings.tsx'))

const sorts: Record<PullRow['sort'], string> = {
  pull: 'pull',
  upload: 'file',
  statement: 'bank statement',
  bank_pull: 'bank',
}

/** One source: pull it, bring in files, look back in the log. */
export const SourcePage = () => {
  const { source = '' } = useParams()
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const notice = useNotice()
  const query = useQuery(sourcesQuery(clientId))
  const { data } = query
  const { data: log } = useQuery(pullsQuery(clientId, source))
  const { pull } = useSourceActs(clientId)
  const [changing, setChanging] = useState(false)
  const bringing = useBring({ subject: 'source', key: source })
  const row = data?.sources.find(one => one.source === source)
  if (data && !row)
    return (
      <Page title="Source">
        There is no such source. <Link to={href('/sources')}>All sources</Link>
      </Page>
    )
  if (!row) return <Page title="Source" of={query} />
  const columns: readonly SheetColumn<PullRow>[] = [
    {
      id: 'at',
      head: 'When',
      width: '160px',
      cell: one => momentText(one.startedAt, timeZone),
      value: one => one.startedAt,
    },
    { id: 'sort', head: 'What', width: '90px', cell: one => sorts[one.sort], value: one => one.sort },
    {
      id: 'name',
      head: 'File',
      width: '230px',
      cell: one => (one.sort === 'upload' && one.state !== 'failed' ? one.message : ''),
      value: one => one.message,
    },
    {
      id: 'state',
      head: 'State',
      width: '90px',
      cell: one => (
        <Span color={one.state === 'failed' ? 'crimson' : 'inherit'}>
          {one.state === 'failed' ? '▲ failed' : one.state}
        </Span>
      ),
      value: one => one.state,
    },
    {
      id: 'new',
      head: 'New',
      right: true,
      width: '76px',
      cell: one => one.added.toLocaleString('en-IE'),
      value: one => one.added,
    },
    {
      id: 'revised',
      head: 'Corrected',
      right: true,
      width: '84px',
      cell: one => one.revised.toLocaleString('en-IE'),
      value: one => one.revised,
    },
    {
      id: 'same',
      head: 'Known',
      right: true,
      width: '76px',
      cell: one => one.same.toLocaleString('en-IE'),
      value: one => one.same,
    },
    { id: 'by', head: 'By', width: '110px', cell: one => one.by, value: one => one.by },
    {
      id: 'said',
      head: 'Said',
      cell: one => (one.state === 'done' ? <TakeImportBack pull={one} /> : <Span color="muted">{pullText(one)}</Span>),
    },
  ]
  return (
    <Page
      links={
        <>
          <Link to={href('/sources')}>Sources</Link>
          <Link to={href(`/sources/${source}/options`)}>How it is booked</Link>
        </>
      }
      title={row.name}
      facts={
        <span>
          {countText(row.lines, 'line')} · {row.pulledTo ? `to ${momentText(row.pulledTo, timeZone)}` : 'nothing yet'} ·
          clearing {row.clearing.map(one => one.account).join(', ')}
        </span>
      }
      actions={
        <>
          <Act right="connect" onClick={() => setChanging(true)}>
            Change
          </Act>
          <AboutButton
            plain
            of={{ subject: 'source', key: subjectKey(source), title: row.name, link: `/sources/${source}` }}
          />
          <FileButton
            label="Bring in files"
            accept=".csv,.txt,.xlsx,text/csv"
            multiple
            busy={bringing.busy}
            onFiles={files => void bringing.bring(files)}
          />
          {row.connected && !row.grant?.ended ? (
            <Act
              right="bring"
              variant="solid"
              disabled={isPulling(row.lastPull)}
              onClick={() => pull.mutate(source, { onError: notice.refuse })}
            >
              Pull new activity
            </Act>
          ) : null}
        </>
      }
    >
      {changing ? (
        <Suspense fallback={null}>
          <SourceSettings source={source} onClose={() => setChanging(false)} />
        </Suspense>
      ) : null}
      {row.grant ? <ConnectionPart row={row} /> : null}
      <Flex mb="6px" align="center" _empty={{ display: 'none' }}>
        <PullProgress pull={row.lastPull} />
      </Flex>
      {row.bookedFrom ? <CutOverPart source={source} /> : null}
      <RowsAside source={source} />
      {row.corrections > 0 ? (
        <Box mb="10px" bg="ochre.wash" borderWidth="1px" borderColor="ochre" px="12px" py="6px">
          <Span color="ochre" fontWeight="600">
            ◆ {countText(row.corrections, 'line')} of posted settlements came back changed.
          </Span>{' '}
          <Link to={href('/settlements?state=corrected')}>See and book the corrections</Link>
        </Box>
      ) : null}
      <Box as="h2" fontWeight="600" mb="6px">
        Pull log
      </Box>
      <SheetTable
        label="Pull log"
        columns={columns}
        rows={log?.pulls ?? []}
        rowKey={one => one.jobId}
        empty="Nothing was pulled yet."
      />
      <Box color="muted" textStyle="small" mt="8px">
        Any file of it: Culvert’s own activity, settlements and balances, or a CSV or XLSX of any shape, whose columns
        are asked about once. A file comes in whole or not at all; what is known already is left alone.
      </Box>
      <OwnFormats of={['activity', 'settlements', 'balances']} />
    </Page>
  )
}
