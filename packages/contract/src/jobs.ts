import { z } from 'zod'
import { type Endpoint, endpoint, nothing } from './endpoint.ts'
import { problem } from './shared.ts'

/** What is done beside the request that asked for it, or is told of like that. */
export const jobSorts = [
  'pull',
  'upload',
  'statement',
  'bank_pull',
  'post',
  'take_back',
  'confirm',
  'confirm_certain',
  'compose',
  'count',
] as const
export type JobSort = (typeof jobSorts)[number]
/** Those that bring something in: the pull log tells of them. */
export const pullSorts = ['pull', 'upload', 'statement', 'bank_pull'] as const satisfies readonly JobSort[]

export const jobStates = ['waiting', 'running', 'cancelling', 'done', 'failed', 'cancelled'] as const
export type JobState = (typeof jobStates)[number]

/** Whether it is not over. */
export const isUnderWay = (state: JobState): boolean =>
  state === 'waiting' || state === 'running' || state === 'cancelling'

export const jobRow = z.object({
  jobId: z.string(),
  sort: z.enum(jobSorts),
  /** The source or bank account that it is about; empty where it is about neither. */
  subject: z.string(),
  state: z.enum(jobStates),
  startedAt: z.string(),
  endedAt: z.string().nullable(),
  by: z.string(),
  /** Lines, settlements, deposits, or bytes of a file; null where nobody can say how many there are. */
  done: z.number(),
  total: z.number().nullable(),
  message: z.string(),
})
export type JobRow = z.infer<typeof jobRow>
/** With what has come of it so far, in the form of the answer that a quick one would have had. */
export const wholeJob = jobRow.extend({ outcome: z.unknown(), refusal: problem.nullable() })
export type WholeJob = z.infer<typeof wholeJob>

/** The answer to what goes on as a job. */
export const startedJob = z.strictObject({ job: z.string() })

/** The answer of what is done at once where it is small, and as a job where it is not. */
export const orJob = <Outcome extends z.ZodType>(outcome: Outcome) => z.union([startedJob, outcome])

/** Whether an endpoint may answer with a job. */
export const mayBeJob = ({ answer }: Pick<Endpoint, 'answer'>): boolean =>
  answer instanceof z.ZodUnion && answer.options[0] === startedJob

/** The job that an answer says goes on; null where it is the outcome. */
export const jobIn = (answer: unknown): string | null => {
  const started = startedJob.safeParse(answer)
  return started.success ? started.data.job : null
}

/** Waits until a job is over, telling of it each time it is looked at. */
export const untilOver = async (
  load: () => Promise<WholeJob>,
  pause: () => Promise<unknown>,
  tell: (job: WholeJob) => void = () => undefined,
): Promise<WholeJob> => {
  for (;;) {
    const job = await load()
    tell(job)
    if (!isUnderWay(job.state)) return job
    await pause()
  }
}

/** What an endpoint that may answer with a job comes to. */
export type OutcomeOf<Answer extends z.ZodType> = Exclude<z.output<Answer>, z.output<typeof startedJob>>

/** What an endpoint that may answer with a job has come to; null where it went on as a job and left nothing. */
export const outcomeIn = <Answer extends z.ZodType>(
  { answer }: { readonly answer: Answer },
  kept: unknown,
): OutcomeOf<Answer> | null => (kept === null || kept === undefined ? null : (answer.parse(kept) as OutcomeOf<Answer>))

export const jobEndpoints = {
  jobs: endpoint({
    method: 'GET',
    path: '/jobs',
    right: 'read',
    does: 'The log of jobs, the latest first; with `state` under_way only those that are not over.',
    query: z.object({ state: z.enum(['under_way']).optional() }),
    answer: z.object({ jobs: z.array(jobRow) }),
  }),
  job: endpoint({
    method: 'GET',
    path: '/jobs/:job',
    right: 'read',
    does: 'One job: how far it is, and what has come of it so far.',
    answer: wholeJob,
  }),
  cancelPull: endpoint({
    method: 'POST',
    path: '/pulls/:job/cancel',
    right: 'bring',
    does: 'Cancels a pull, or the reading of a file.',
    answer: nothing,
  }),
  cancelPosting: endpoint({
    method: 'POST',
    path: '/postings/:job/cancel',
    right: 'post',
    does: 'Cancels posting or taking back of many: what is done stays done.',
    answer: nothing,
  }),
  cancelConfirming: endpoint({
    method: 'POST',
    path: '/confirmings/:job/cancel',
    right: 'pair',
    does: 'Cancels confirming of many, as if it had never begun.',
    answer: nothing,
  }),
  cancelCounting: endpoint({
    method: 'POST',
    path: '/countings/:job/cancel',
    right: 'map',
    does: 'Cancels counting a source’s lines by another moment, as if its options had never been saved.',
    answer: nothing,
  }),
}
