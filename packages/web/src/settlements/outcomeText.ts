import type { PostOutcome, TakeBackOutcome } from '@culvert/contract'
import { countText } from '../ui/formats.ts'
import { reasonText } from '../ui/words.ts'

/** Names told of those that were left for one reason; of more it is said how many. */
const mostNamed = 3

/** Why things were left, each reason once with what it left: a few are named, many counted. */
const leftFor = (left: readonly { readonly name: string; readonly why: string }[]): string =>
  [...new Set(left.map(one => one.why))]
    .map(why => {
      const ones = left.filter(one => one.why === why)
      const named = ones.slice(0, mostNamed).map(one => one.name)
      const more = ones.length - named.length
      return `${named.join(', ')}${more > 0 ? ` and ${more.toLocaleString('en-IE')} more` : ''}: ${why}`
    })
    .join('; ')

const whyNotPosted = (one: PostOutcome['notPosted'][number]): string => {
  if (one.reason === 'blocked') return one.blocks.map(block => reasonText(block.reason)).join(', ')
  return one.reason === 'posted' ? 'posted already' : one.reason.replace('_', ' ')
}

/** What posting came to, in a sentence or two. */
export const postedText = (outcome: PostOutcome): string => {
  const posted = `Posted ${countText(outcome.posted.length, 'settlement')}, ${countText(outcome.entries, 'entry', 'entries')}.`
  const left = leftFor(outcome.notPosted.map(one => ({ name: one.key.key, why: whyNotPosted(one) })))
  return `${posted}${left === '' ? '' : ` Left out: ${left}.`}${leftText(outcome.brokenOff)}`
}

/** What was left after something went wrong in the midst. */
const leftText = (brokenOff: { left: number } | null): string =>
  brokenOff === null
    ? ''
    : ` Then something went wrong: ${countText(brokenOff.left, 'settlement')} ${brokenOff.left === 1 ? 'was' : 'were'} not tried. What is done stays done; look, and go on.`

export const takenBackText = (outcome: TakeBackOutcome): string => {
  const done = `Took back ${countText(outcome.takenBack.length, 'settlement')} by ${countText(outcome.entries, 'reversal')}.`
  const left = leftFor(
    outcome.refused.map(one => ({
      name: one.key.key,
      why: one.reason === 'paired' ? 'its deposit is confirmed; take that apart on the Bank page first' : 'not posted',
    })),
  )
  return `${done}${left === '' ? '' : ` Left: ${left}.`}${leftText(outcome.brokenOff)}`
}
