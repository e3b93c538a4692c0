import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { AskedOf, ConsentRow, NoteRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { Amount } from '../ui/Amount.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { countText, momentText, monthText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { NoteCard } from './NoteCard.tsx'
import { askedQuery, useConsentActs } from './noteQueries.ts'
import { ReasonDialog } from './ReasonDialog.tsx'

/** What waits for whoever looks: consents, questions to them, answers to theirs; and what became of what they asked for. */
export const AskedPage = () => {
  const { clientId } = useClient()
  const query = useQuery(askedQuery(clientId))
  const { data } = query
  return (
    <Page of={query} title="Asked of you" facts={data ? <span>{waitingText(data)}</span> : null}>
      {data ? (
        <Flex direction="column" gap="22px" maxW="900px">
          <Part title="For your consent" rows={data.consents} empty="Nothing waits for your consent.">
            {row => <Consent key={row.consentId} row={row} />}
          </Part>
          <Part title="Questions to you" rows={data.questions} empty="Nobody asks you anything.">
            {note => <NoteCard key={note.noteId} note={note} about={<AboutLink note={note} />} />}
          </Part>
          <Part
            title="Answers to you"
            rows={data.answered}
            empty="No question of yours was answered that is not closed."
          >
            {note => <NoteCard key={note.noteId} note={note} about={<AboutLink note={note} />} />}
          </Part>
          {data.wanted.length > 0 ? (
            <Part title="What you asked consent for" rows={data.wanted} empty="">
              {row => <Wanted key={row.consentId} row={row} />}
            </Part>
          ) : null}
        </Flex>
      ) : null}
    </Page>
  )
}

const waitingText = ({ consents, questions, answered }: AskedOf): string => {
  const parts = [
    consents.length > 0 ? countText(consents.length, 'consent') : '',
    questions.length > 0 ? countText(questions.length, 'question') : '',
    answered.length > 0 ? countText(answered.length, 'answer') : '',
  ].filter(Boolean)
  return parts.length > 0 ? parts.join(', ') : 'nothing waits for you'
}

interface PartProps<Row> {
  readonly title: string
  readonly rows: readonly Row[]
  readonly empty: string
  readonly children: (row: Row) => ReactNode
}

const Part = <Row,>({ title, rows, empty, children }: PartProps<Row>) => (
  <Box as="section" aria-label={title}>
    <Box as="h2" fontSize="15px" fontWeight="600" mb="8px">
      {title}
    </Box>
    {rows.length === 0 ? <Box color="muted">{empty}</Box> : rows.map(children)}
  </Box>
)

const AboutLink = ({ note }: { readonly note: NoteRow }) => {
  const href = useHref()
  return (
    <PageLink to={href(note.link)} fontWeight="600">
      {note.title}
    </PageLink>
  )
}

const wantedText = ({ wanted, count }: ConsentRow): string => {
  switch (wanted.sort) {
    case 'post':
      return `post ${countText(count, 'settlement')}`
    case 'take_back':
      return `take back ${countText(count, 'settlement')}`
    case 'correct':
      return 'book a correction'
    case 'decide_payments':
      return `decide ${countText(count, 'payment')}`
    case 'lock':
      return `${wanted.locked ? 'lock' : 'open again'} ${monthText(wanted.month)}`
  }
}

const mostNamed = 6

/** What it is about, each a link. */
const WantedOf = ({ row }: { readonly row: ConsentRow }) => {
  const href = useHref()
  if (row.wanted.sort === 'lock')
    return <PageLink to={href(`/settlements?period=${row.wanted.month}`)}>{monthText(row.wanted.month)}</PageLink>
  if (row.wanted.sort === 'decide_payments')
    return <PageLink to={href('/payments')}>{row.wanted.decisions.map(one => one.of.lineId).join(', ')}</PageLink>
  const keys = row.wanted.sort === 'correct' ? [row.wanted.key] : row.wanted.keys
  return (
    <>
      {keys.slice(0, mostNamed).map((key, at) => (
        <span key={settlementPath(key)}>
          {at > 0 ? ', ' : ''}
          <PageLink to={href(settlementPath(key))}>
            {key.key.startsWith('day:') ? `${key.source}:${key.key.slice(4)}` : key.key}
          </PageLink>
        </span>
      ))}
      {keys.length > mostNamed ? <Span color="muted"> and {keys.length - mostNamed} more</Span> : null}
    </>
  )
}

const ConsentBox = ({
  row,
  says,
  children,
}: {
  readonly row: ConsentRow
  readonly says: ReactNode
  readonly children: ReactNode
}) => {
  const { base, timeZone } = useClient()
  return (
    <Box as="article" bg="sheet" borderWidth="1px" borderColor="hairline" p="10px" mb="10px">
      <Flex gap="14px" wrap="wrap" align="baseline">
        <Box flex="1">{says}</Box>
        <Box fontWeight="600">
          <Amount minor={row.amount} currency={base} />
        </Box>
        <Span color="muted" textStyle="small">
          {momentText(row.askedAt, timeZone)}
        </Span>
      </Flex>
      <Box textStyle="small" mt="2px">
        <WantedOf row={row} />
        {row.note ? <Box color="muted">“{row.note}”</Box> : null}
      </Box>
      {children}
    </Box>
  )
}

const Consent = ({ row }: { readonly row: ConsentRow }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const acts = useConsentActs(clientId)
  const [asking, setAsking] = useState<'give' | 'refuse' | null>(null)
  const busy = acts.give.isPending || acts.refuse.isPending
  return (
    <ConsentBox
      row={row}
      says={
        <>
          <Span fontWeight="600">{row.askedBy.name}</Span> asks to {wantedText(row)}
        </>
      }
    >
      {row.stands === false ? (
        <Box color="ochre" textStyle="small" mt="4px">
          ◆ Something of it or of the setup changed since it was asked for: it must be asked for again.
        </Box>
      ) : null}
      <Flex gap="8px" mt="8px">
        <Button variant="solid" disabled={busy || row.stands === false} onClick={() => setAsking('give')}>
          Consent
        </Button>
        <Button disabled={busy} onClick={() => setAsking('refuse')}>
          Do not consent
        </Button>
      </Flex>
      <AskDialog
        open={asking === 'give'}
        title={`Consent to ${wantedText(row)}?`}
        act="Consent"
        onClose={() => setAsking(null)}
        onAct={() =>
          acts.give.mutate(row, {
            onError: notice.refuse,
            onSuccess: ({ done }) => notice.say(`Done as ${row.askedBy.name} asked: ${done} of ${row.count}.`),
          })
        }
      >
        It is done at once and in your name, if it is still exactly what {row.askedBy.name} asked for.
      </AskDialog>
      {asking === 'refuse' ? (
        <ReasonDialog
          title={`Not consent to ${wantedText(row)}`}
          act="Do not consent"
          onClose={() => setAsking(null)}
          onDone={reason =>
            acts.refuse.mutate({ row, reason }, { onError: notice.refuse, onSuccess: () => setAsking(null) })
          }
        />
      ) : null}
    </ConsentBox>
  )
}

const outcomeText = ({ outcome, decidedBy, reason, stands }: ConsentRow): string => {
  switch (outcome) {
    case null:
      return stands ? 'waits for consent' : 'has changed since, and must be asked for again'
    case 'given':
      return `done with the consent of ${decidedBy ?? 'somebody'}`
    case 'refused':
      return `${decidedBy ?? 'Somebody'} did not consent: ${reason}`
    case 'withdrawn':
      return 'taken back'
    case 'moved':
      return 'was something else by then, and was not done'
  }
}

const Wanted = ({ row }: { readonly row: ConsentRow }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { withdraw } = useConsentActs(clientId)
  return (
    <ConsentBox
      row={row}
      says={
        <>
          To {wantedText(row)}: {outcomeText(row)}
        </>
      }
    >
      {row.outcome === null ? (
        <Button mt="8px" disabled={withdraw.isPending} onClick={() => withdraw.mutate(row, { onError: notice.refuse })}>
          Take it back
        </Button>
      ) : null}
    </ConsentBox>
  )
}
