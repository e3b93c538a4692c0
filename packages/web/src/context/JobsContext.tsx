import { type Endpoint, jobEndpoints, jobIn, type OutcomeOf, outcomeIn, type WholeJob } from '@culvert/contract'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { createContext, useContext } from 'react'
import type { z } from 'zod'
import { type Asked, call } from './request.ts'

interface Jobs {
  /** Has the frame wait for a job and say what it came to, whichever page is open by then. */
  follow(jobId: string): void
}

export const JobsContext = createContext<Jobs>({ follow: () => undefined })

/** Jobs of a client that are not over; asked often while there are any, or while one is waited for. */
export const underWayQuery = (clientId: number, waited: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'jobs', 'under_way'],
    queryFn: () => call(jobEndpoints.jobs, { client: clientId, query: { state: 'under_way' } }),
    refetchInterval: query => ((query.state.data?.jobs.length ?? 0) + waited > 0 ? 700 : 15_000),
  })

/** Whether any job of these sorts is not over: what it does is not begun again beside it. */
export const useUnderWay = (clientId: number, sorts: readonly WholeJob['sort'][]): boolean => {
  const { data } = useQuery(underWayQuery(clientId, 0))
  return data?.jobs.some(job => sorts.includes(job.sort)) ?? false
}

/** The log of jobs. */
export const jobLogQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'jobs', 'log'],
    queryFn: () => call(jobEndpoints.jobs, { client: clientId }),
    refetchInterval: 5_000,
  })

export const loadJob = (clientId: number, jobId: string): Promise<WholeJob> =>
  call(jobEndpoints.job, { client: clientId, params: { job: jobId } })

const cancelEndpoints = {
  pull: jobEndpoints.cancelPull,
  bank_pull: jobEndpoints.cancelPull,
  upload: jobEndpoints.cancelPull,
  statement: jobEndpoints.cancelPull,
  post: jobEndpoints.cancelPosting,
  take_back: jobEndpoints.cancelPosting,
  confirm: jobEndpoints.cancelConfirming,
  confirm_certain: jobEndpoints.cancelConfirming,
  count: jobEndpoints.cancelCounting,
} as const

/** Whether a job of this sort can be stopped: composing goes on until all is as it was saved. */
export const canStop = (sort: WholeJob['sort']): sort is keyof typeof cancelEndpoints => sort !== 'compose'

export const stopJob = (clientId: number, sort: keyof typeof cancelEndpoints, jobId: string) =>
  call(cancelEndpoints[sort], { client: clientId, params: { job: jobId } })

/**
 * Calls endpoints that may answer with a job. Gives the outcome; null where it goes on as a job, which the frame then waits for and tells of.
 * @throws RequestRefused
 */
export const useJobs = (): (<
  Path extends string,
  QueryOf extends z.ZodType,
  Body extends z.ZodType,
  Answer extends z.ZodType,
>(
  endpoint: Endpoint<Path, QueryOf, Body, Answer>,
  asked: Asked<Path, Body>,
) => Promise<OutcomeOf<Answer> | null>) => {
  const { follow } = useContext(JobsContext)
  return async (endpoint, asked) => {
    const answer = await call(endpoint, asked)
    const job = jobIn(answer)
    if (job === null) return outcomeIn(endpoint, answer)
    follow(job)
    return null
  }
}
