import { Span } from '@chakra-ui/react'

const marks: Record<string, { mark: string; word: string; tone: string }> = {
  posted: { mark: '■', word: 'posted', tone: 'inherit' },
  proposed: { mark: '▨', word: 'proposed', tone: 'inherit' },
  blocked: { mark: '◆', word: 'blocked', tone: 'ochre' },
  set_aside: { mark: '▢', word: 'set aside', tone: 'muted' },
  elsewhere: { mark: '▢', word: 'booked elsewhere', tone: 'muted' },
  closed: { mark: '▣', word: 'closed', tone: 'inherit' },
  explained: { mark: '◇', word: 'explained', tone: 'ochre' },
  unexplained: { mark: '▲', word: 'unexplained', tone: 'crimson' },
  failed: { mark: '▲', word: 'failed', tone: 'crimson' },
  certain: { mark: '■', word: 'certain', tone: 'inherit' },
  likely: { mark: '▨', word: 'likely', tone: 'inherit' },
  possible: { mark: '▢', word: 'possible', tone: 'ochre' },
  confirmed: { mark: '▣', word: 'confirmed', tone: 'muted' },
}

/** A state as a mark with its word: never by colour alone. */
export const StateMark = ({ state, word }: { readonly state: string; readonly word?: string }) => {
  const facts = marks[state] ?? { mark: '▢', word: state, tone: 'inherit' }
  return (
    <Span color={facts.tone}>
      <span aria-hidden="true">{facts.mark} </span>
      {word ?? facts.word}
    </Span>
  )
}
