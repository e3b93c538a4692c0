import type { PostOutcome, TakeBackOutcome } from '@culvert/contract'
import { countText, monthText } from '../ui/formats.ts'
import { reasonText } from '../ui/words.ts'

/** What posting came to, in a sentence or two. */
export const postedText = (outcome: PostOutcome): string => {
  const posted = `Posted ${countText(outcome.posted.length, 'settlement')}, ${countText(outcome.entries, 'entry', 'entries')}.`
  const left = outcome.notPosted.map(one => {
    if (one.reason === 'locked') return `${one.key.key}: ${one.months.map(monthText).join(', ')} is locked`
    if (one.reason === 'blocked')
      return `${one.key.key}: ${one.blocks.map(block => reasonText(block.reason)).join(', ')}`
    return `${one.key.key}: ${one.reason === 'posted' ? 'posted already' : one.reason.replace('_', ' ')}`
  })
  return `${posted}${left.length === 0 ? '' : ` Left out: ${left.join('; ')}.`}${leftText(outcome.brokenOff)}`
}

/** What was left after something went wrong in the midst. */
const leftText = (brokenOff: { left: number } | null): string =>
  brokenOff === null
    ? ''
    : ` Then something went wrong: ${countText(brokenOff.left, 'settlement')} ${brokenOff.left === 1 ? 'was' : 'were'} not tried. What is done stays done; look, and go on.`

export const takenBackText = (outcome: TakeBackOutcome): string => {
  const done = `Took back ${countText(outcome.takenBack.length, 'settlement')} by ${countText(outcome.entries, 'reversal')}.`
  const left = outcome.refused.map(
    one =>
      `${one.key.key}: ${one.reason === 'paired' ? 'its deposit is confirmed; take that apart on the Bank page first' : 'not posted'}`,
  )
  return `${done}${left.length === 0 ? '' : ` Left: ${left.join('; ')}.`}${leftText(outcome.brokenOff)}`
}
