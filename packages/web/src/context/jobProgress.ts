import type { JobRow } from '@culvert/contract'

export const jobNames: Readonly<Record<JobRow['sort'], string>> = {
  pull: 'Pull',
  bank_pull: 'Pull from the bank',
  upload: 'File',
  statement: 'Bank statement',
  post: 'Posting',
  take_back: 'Taking back',
  confirm: 'Confirming',
  confirm_certain: 'Confirming what is certain',
  compose: 'Composing anew',
  count: 'Counting anew',
}

/** The part of a job that is done, of one; null where nobody can say. */
export const shareOf = ({ done, total }: JobRow): number | null => (total ? Math.min(1, done / total) : null)

const megabytes = (bytes: number): string => (bytes / 1_000_000).toLocaleString('en-IE', { maximumFractionDigits: 1 })

/** How much a job has been through, in its own units. */
export const doneText = ({ sort, done, total }: JobRow): string => {
  if (sort === 'upload' || sort === 'statement')
    return total === null ? '' : `${megabytes(done)} of ${megabytes(total)} MB`
  const units = sort === 'pull' || sort === 'bank_pull' || sort === 'count' ? ' lines' : ''
  if (total === null) return done === 0 ? '' : `${done.toLocaleString('en-IE')}${units}`
  return `${done.toLocaleString('en-IE')} of ${total.toLocaleString('en-IE')}${units}`
}

/** How far a job is that is not over. */
export const progressText = (job: JobRow): string => {
  if (job.state === 'waiting') return 'waiting to start'
  if (job.state === 'cancelling') return 'stopping'
  // All is read by then; what rests on it is brought up to date.
  return job.total !== null && job.done >= job.total ? 'composing' : doneText(job)
}
