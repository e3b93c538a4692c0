import { Span } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { Amount } from '../ui/Amount.tsx'
import { StateMark } from '../ui/StateMark.tsx'

/** How the proof of a page came out, in a mark with its words. */
export const OutcomeMark = ({ page }: { readonly page: ProofPage }) => {
  switch (page.outcome) {
    case null:
      return null
    case 'closed':
      return <StateMark state="closed" word="closed: nothing unexplained" />
    case 'explained':
      return <StateMark state="explained" word="explained, but something is to be mended" />
    case 'open':
      return page.unexplained === 0 ? (
        <StateMark state="unexplained" word="open: entries are not what their lines come to" />
      ) : (
        <Span color="crimson">
          ▲ <Amount minor={page.unexplained} currency={page.currency} /> unexplained
        </Span>
      )
  }
}
