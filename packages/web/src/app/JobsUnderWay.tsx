import { Button, Flex, Span } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { canStop, stopJob, underWayQuery } from '../context/JobsContext.tsx'
import { jobNames, progressText, shareOf } from '../context/jobProgress.ts'
import { useNotice } from '../ui/Notice.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { ProgressBar } from '../ui/ProgressBar.tsx'

/**
 * The job that is under way, how far it is, and a way to stop it; of several the one that began first, and how many more there are. While
 * there is none, the way to the log, and what else is to stand in its place.
 */
export const JobsUnderWay = ({ children }: { readonly children: ReactNode }) => {
  const { clientId } = useClient()
  const href = useHref()
  const queries = useQueryClient()
  const notice = useNotice()
  const { data } = useQuery(underWayQuery(clientId, 0))
  const stop = useMutation({
    mutationFn: (job: { sort: Parameters<typeof stopJob>[1]; jobId: string }) => stopJob(clientId, job.sort, job.jobId),
    onError: notice.refuse,
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId, 'jobs'] })
    },
  })
  const job = data?.jobs.at(-1)
  if (!job)
    return (
      <>
        <PageLink textStyle="small" to={href('/jobs')}>
          Jobs
        </PageLink>
        {children}
      </>
    )
  const more = (data?.jobs.length ?? 1) - 1
  const { sort, jobId } = job
  return (
    <Flex align="center" gap="10px" textStyle="small" whiteSpace="nowrap">
      <Link to={href('/jobs')}>{jobNames[sort]}</Link>
      <ProgressBar share={shareOf(job)} label={jobNames[sort]} width="90px" />
      <Span color="muted" hideBelow="md">
        {progressText(job)}
      </Span>
      {canStop(sort) && job.state !== 'cancelling' ? (
        <Button variant="ghost" textStyle="small" onClick={() => stop.mutate({ sort, jobId })}>
          Stop
        </Button>
      ) : null}
      {more > 0 ? <Link to={href('/jobs')}>and {more} more</Link> : null}
    </Flex>
  )
}
