import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { answerBody, type NoteRow, noteEndpoints } from '@culvert/contract'
import { type ReactNode, useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { useMay } from '../context/useMay.ts'
import { FileButton } from '../ui/FileButton.tsx'
import { WordsField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Evidence } from './Evidence.tsx'
import { useNoteActs } from './noteQueries.ts'

const asksText = ({ sort, to, sent }: NoteRow): string => {
  if (sort === 'note') return 'notes'
  if (sort === 'question') return `asks ${to?.name ?? 'somebody'}`
  return `asks the client${sent?.to ? ` (${sent.to})` : ''}`
}

const linkText = ({ sent, closedAt }: NoteRow, zone: string): string | null => {
  if (!sent) return null
  if (sent.withdrawnAt) return 'its link is withdrawn'
  if (closedAt) return null
  const opened = sent.openedAt ? `opened ${momentText(sent.openedAt, zone)}` : 'its link was not opened yet'
  return `${opened}; good until ${momentText(sent.expiresAt, zone)}`
}

interface NoteCardProps {
  readonly note: NoteRow
  /** What it is about, where the page does not say. */
  readonly about?: ReactNode
}

/** A note or question with its answers and files, and what can be done to it. */
export const NoteCard = ({ note, about }: NoteCardProps) => {
  const { clientId, timeZone } = useClient()
  const link = linkText(note, timeZone)
  return (
    <Box as="article" bg="sheet" borderWidth="1px" borderColor="hairline" p="10px" mb="10px" overflowWrap="anywhere">
      <Flex gap="8px" wrap="wrap" color="muted" textStyle="small">
        {about}
        <span>
          <Span color="ink" fontWeight="600">
            {note.by.name}
          </Span>{' '}
          {asksText(note)}
        </span>
        <span>{momentText(note.at, timeZone)}</span>
        {note.closedAt ? <span>■ closed</span> : null}
      </Flex>
      <Box whiteSpace="pre-wrap" mt="2px">
        {note.text}
      </Box>
      {link ? (
        <Box color="muted" textStyle="small">
          {link}
        </Box>
      ) : null}
      {note.answers.map(answer => (
        <Box key={answer.at + answer.text} mt="6px" pl="10px" borderLeftWidth="2px" borderColor="bar">
          <Box color="muted" textStyle="small">
            <Span color="ink" fontWeight="600">
              {answer.by ?? 'The client'}
            </Span>{' '}
            {momentText(answer.at, timeZone)}
          </Box>
          <Box whiteSpace="pre-wrap">{answer.text}</Box>
        </Box>
      ))}
      <Evidence
        files={note.evidence}
        fetchFile={file => call(noteEndpoints.evidence, { client: clientId, params: { note: note.noteId, file } })}
      />
      {note.closedAt === null ? <NoteFoot note={note} /> : null}
    </Box>
  )
}

const NoteFoot = ({ note }: { readonly note: NoteRow }) => {
  const { clientId } = useClient()
  const may = useMay()
  const notice = useNotice()
  const acts = useNoteActs(clientId)
  const [answering, setAnswering] = useState(false)
  const isQuestion = note.sort !== 'note'
  return (
    <>
      <Flex gap="8px" mt="8px" wrap="wrap" align="center">
        {isQuestion && !answering ? <Button onClick={() => setAnswering(true)}>Answer</Button> : null}
        <FileButton
          label="Attach a file"
          accept="image/*,.pdf"
          busy={acts.attach.isPending}
          onFiles={([file]) => file && acts.attach.mutate({ note: note.noteId, file }, { onError: notice.refuse })}
        />
        {may('comment') && isQuestion ? (
          <Button
            disabled={acts.close.isPending}
            onClick={() => acts.close.mutate(note.noteId, { onError: notice.refuse })}
          >
            Close it
          </Button>
        ) : null}
        {may('comment') && note.sent && !note.sent.withdrawnAt ? (
          <Button variant="ghost" onClick={() => acts.withdraw.mutate(note.noteId, { onError: notice.refuse })}>
            Withdraw the link
          </Button>
        ) : null}
      </Flex>
      {answering ? <AnswerForm note={note} onDone={() => setAnswering(false)} /> : null}
    </>
  )
}

const AnswerForm = ({ note, onDone }: { readonly note: NoteRow; readonly onDone: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { answer } = useNoteActs(clientId)
  const form = useSchemaForm(answerBody, { text: '' })
  const send = form.handleSubmit(({ text }) =>
    answer.mutate({ note: note.noteId, text }, { onSuccess: onDone, onError: notice.refuse }),
  )
  return (
    <form noValidate onSubmit={onSubmit(answer.isPending, send)}>
      <Box mt="8px">
        <WordsField control={form.control} name="text" label="Answer" autoFocus />
      </Box>
      <Flex gap="8px" mt="8px">
        <Button type="submit" variant="solid" disabled={answer.isPending}>
          Answer
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </Flex>
    </form>
  )
}
