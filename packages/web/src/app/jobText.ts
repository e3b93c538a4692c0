import { bankEndpoints, outcomeIn, settlementEndpoints, sourceEndpoints, type WholeJob } from '@culvert/contract'
import { jobNames } from '../context/jobProgress.ts'
import { statementText, uploadedText } from '../files/broughtText.ts'
import { postedText, takenBackText } from '../settlements/outcomeText.ts'
import { pulledText, savedOptionsText } from '../sources/outcomeText.ts'
import { countText } from '../ui/formats.ts'

const said = (job: WholeJob): string | null => {
  const { sort, outcome, message } = job
  switch (sort) {
    case 'upload': {
      const upload = outcomeIn(sourceEndpoints.upload, outcome)
      return upload && uploadedText(message, upload)
    }
    case 'statement': {
      const statement = outcomeIn(bankEndpoints.uploadStatement, outcome)
      return statement && statementText(message, statement)
    }
    case 'post': {
      const posted = outcomeIn(settlementEndpoints.post, outcome)
      return posted && postedText(posted)
    }
    case 'take_back': {
      const back = outcomeIn(settlementEndpoints.takeBack, outcome)
      return back && takenBackText(back)
    }
    case 'confirm':
    case 'confirm_certain': {
      const confirmed = outcomeIn(bankEndpoints.confirm, outcome)
      return confirmed && `Confirmed ${countText(confirmed.confirmed, 'pairing')}.`
    }
    case 'count': {
      const saved = outcomeIn(sourceEndpoints.saveOptions, outcome)
      return saved && savedOptionsText(saved)
    }
    case 'compose':
      return null
    default:
      return pulledText(outcome)
  }
}

/** What a job that is over has come to, in words; null where there is nothing to say. */
export const overText = (job: WholeJob): string | null => {
  const sofar = said(job)
  if (job.state === 'done') return sofar
  if (job.state === 'cancelled') return `Stopped. ${sofar ?? 'Nothing was done.'}`
  return `${jobNames[job.sort]}: ${job.message === '' ? (job.refusal?.error ?? 'it failed.') : job.message}${
    sofar === null || job.sort === 'pull' || job.sort === 'bank_pull' ? '' : ` Until then: ${sofar}`
  }`
}
