import { isUnderWay, type JobRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { jobLogQuery } from '../context/JobsContext.tsx'
import { momentText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { type SheetColumn, SheetTable } from '../ui/SheetTable.tsx'
import { jobNames, progressText } from './jobText.ts'

const states: Readonly<Record<JobRow['state'], string>> = {
  waiting: 'waiting',
  running: 'under way',
  cancelling: 'stopping',
  done: 'done',
  failed: '▲ failed',
  cancelled: 'stopped',
}

/** The log of what was done beside the pages: pulls, files, and acts on many things at once. */
export const JobsPage = () => {
  const { clientId, timeZone } = useClient()
  const { data, error } = useQuery(jobLogQuery(clientId))
  const columns: readonly SheetColumn<JobRow>[] = [
    {
      id: 'at',
      head: 'Began',
      width: '160px',
      cell: job => momentText(job.startedAt, timeZone),
      value: job => job.startedAt,
    },
    { id: 'sort', head: 'What', width: '190px', cell: job => jobNames[job.sort], value: job => jobNames[job.sort] },
    { id: 'subject', head: 'Of', width: '110px', cell: job => job.subject, value: job => job.subject },
    {
      id: 'state',
      head: 'State',
      width: '100px',
      cell: job => <span className={job.state === 'failed' ? 'crimson' : ''}>{states[job.state]}</span>,
      value: job => job.state,
    },
    {
      id: 'done',
      head: 'How far',
      right: true,
      width: '170px',
      cell: job => progressText({ ...job, state: isUnderWay(job.state) ? job.state : 'running' }),
      value: job => job.done,
    },
    {
      id: 'ended',
      head: 'Ended',
      width: '160px',
      cell: job => momentText(job.endedAt, timeZone),
      value: job => job.endedAt,
    },
    { id: 'by', head: 'By', width: '110px', cell: job => job.by, value: job => job.by },
    {
      id: 'said',
      head: 'File, or what it said',
      cell: job => <span className={job.state === 'failed' ? 'crimson' : 'muted'}>{job.message}</span>,
      value: job => job.message,
    },
  ]
  return (
    <Page
      title="Jobs"
      facts={
        error ? (
          <span className="crimson">{error.message}</span>
        ) : (
          <span>Pulls, files and acts on many things at once, the latest hundred</span>
        )
      }
    >
      <SheetTable
        label="Jobs"
        columns={columns}
        rows={data?.jobs ?? []}
        rowKey={job => job.jobId}
        empty="Nothing was pulled, brought in or done in one go yet."
      />
    </Page>
  )
}
