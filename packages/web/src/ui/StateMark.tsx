const marks: Record<string, { mark: string; word: string; tone: string }> = {
  posted: { mark: '■', word: 'posted', tone: '' },
  proposed: { mark: '▨', word: 'proposed', tone: '' },
  blocked: { mark: '◆', word: 'blocked', tone: 'ochre' },
  set_aside: { mark: '▢', word: 'set aside', tone: 'muted' },
  closed: { mark: '▣', word: 'closed', tone: '' },
  explained: { mark: '◇', word: 'explained', tone: 'ochre' },
  unexplained: { mark: '▲', word: 'unexplained', tone: 'crimson' },
  failed: { mark: '▲', word: 'failed', tone: 'crimson' },
  certain: { mark: '■', word: 'certain', tone: '' },
  likely: { mark: '▨', word: 'likely', tone: '' },
  possible: { mark: '▢', word: 'possible', tone: 'ochre' },
  confirmed: { mark: '▣', word: 'confirmed', tone: 'muted' },
}

/** A state as a mark with its word: never by colour alone. */
export const StateMark = ({ state, word }: { readonly state: string; readonly word?: string }) => {
  const facts = marks[state] ?? { mark: '▢', word: state, tone: '' }
  return (
    <span className={facts.tone}>
      <span aria-hidden="true">{facts.mark} </span>
      {word ?? facts.word}
    </span>
  )
}
