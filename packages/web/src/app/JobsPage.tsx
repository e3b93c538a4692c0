import { Box, Button, Span } from '@chakra-ui/react'
import { isUnderWay, type JobRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { jobLogQuery, loadJob } from '../context/JobsContext.tsx'
import { doneText, jobNames } from '../context/jobProgress.ts'
import { RequestRefused } from '../context/request.ts'
import { momentText, zoneText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { overText } from './jobText.ts'

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
  const query = useQuery(jobLogQuery(clientId))
  const { data } = query
  const notice = useNotice()
  const tell = async (jobId: string) => {
    try {
      const job = await loadJob(clientId, jobId)
      const text = overText(job)
      if (job.state === 'failed') notice.refuse(new RequestRefused(422, { ...job.refusal, error: text ?? job.message }))
      else notice.say(text ?? `${jobNames[job.sort]}: ${doneText(job)}.`)
    } catch (caught) {
      notice.refuse(caught)
    }
  }
  const columns: readonly SheetColumn<JobRow>[] = [
    {
      id: 'at',
      head: `Began, ${zoneText(timeZone)}`,
      width: '170px',
      cell: job => momentText(job.startedAt, timeZone),
      value: job => job.startedAt,
    },
    { id: 'sort', head: 'What', width: '170px', cell: job => jobNames[job.sort], value: job => jobNames[job.sort] },
    { id: 'subject', head: 'Of', width: '110px', cell: job => job.subject, value: job => job.subject },
    {
      id: 'state',
      head: 'State',
      width: '100px',
      cell: job => <Span color={job.state === 'failed' ? 'crimson' : 'inherit'}>{states[job.state]}</Span>,
      value: job => job.state,
    },
    {
      id: 'done',
      head: 'How far',
      right: true,
      width: '130px',
      cell: job => doneText(job),
      value: job => job.done,
    },
    { id: 'by', head: 'By', width: '110px', cell: job => job.by, value: job => job.by },
    {
      id: 'said',
      head: 'File, or what it said',
      width: '360px',
      cell: job => (
        <Box whiteSpace="normal" color={job.state === 'failed' ? 'crimson' : 'muted'}>
          {job.message}
        </Box>
      ),
      value: job => job.message,
    },
    {
      id: 'came',
      head: '',
      width: '130px',
      cell: job =>
        isUnderWay(job.state) ? null : (
          <Button variant="ghost" textStyle="small" onClick={() => void tell(job.jobId)}>
            What came of it
          </Button>
        ),
    },
  ]
  return (
    <Page of={query} title="Jobs" facts={<span>Pulls, files and acts on many things at once, the latest hundred</span>}>
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
