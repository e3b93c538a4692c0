import { Flex, Progress } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { canStop, stopJob, underWayQuery } from '../context/JobsContext.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { shareOf } from './JobsProvider.tsx'
import { jobNames, progressText } from './jobText.ts'

/** The job that is under way, how far it is, and a way to stop it; of several the one that began first, and how many more there are. */
export const JobsUnderWay = () => {
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
  if (!job) return null
  const more = (data?.jobs.length ?? 1) - 1
  const share = shareOf(job)
  const { sort, jobId } = job
  return (
    <Flex align="center" gap="8px" className="small" minW="0">
      <Link to={href('/jobs')} className="nowrap">
        {jobNames[sort]}
      </Link>
      <Progress.Root
        value={share === null ? null : Math.round(share * 100)}
        size="xs"
        w="90px"
        aria-label={jobNames[sort]}
        flexShrink={0}
      >
        <Progress.Track bg="var(--hairline)" borderRadius="0">
          <Progress.Range bg="var(--plum)" />
        </Progress.Track>
      </Progress.Root>
      <span className="muted nowrap hide-narrow">{progressText(job)}</span>
      {canStop(sort) && job.state !== 'cancelling' ? (
        <button type="button" className="linklike small" onClick={() => stop.mutate({ sort, jobId })}>
          Stop
        </button>
      ) : null}
      {more > 0 ? (
        <Link to={href('/jobs')} className="nowrap">
          and {more} more
        </Link>
      ) : null}
    </Flex>
  )
}
