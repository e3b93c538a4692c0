import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { answerBody, type LinkedQuestion, noteEndpoints } from '@culvert/contract'
import { useEffect, useEffectEvent, useState } from 'react'
import { call } from '../context/request.ts'
import { FileButton } from '../ui/FileButton.tsx'
import { WordsField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { momentText, zoneText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Plain } from '../ui/Plain.tsx'
import { Evidence } from './Evidence.tsx'
import { useQuestionActs } from './noteQueries.ts'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

/**
 * One question, for whoever has its link: opened by a press, so that what merely follows links opens nothing; from then on it is open in this browser, and in
 * no other.
 */
export const QuestionPage = () => {
  const [token] = useState(() => window.location.hash.slice(1))
  const { look, open } = useQuestionActs(token)
  const [question, setQuestion] = useState<LinkedQuestion | null>(null)
  const show = () => open.mutate(undefined, { onSuccess: setQuestion })
  const begin = useEffectEvent(() =>
    // What is open here already opens by itself.
    look.mutate(undefined, { onSuccess: ({ is }) => (is === 'open_here' ? show() : undefined) }),
  )
  useEffect(() => {
    if (token.length >= 20) begin()
  }, [token])
  if (question) return <Question token={token} question={question} onAnew={show} />
  const failed = open.error ?? look.error
  const is = token.length < 20 ? 'over' : look.data?.is
  return (
    <Plain title="A question for you">
      {failed ? (
        <Box role="alert" color="crimson" mb="12px">
          ▲ {failed.message}
        </Box>
      ) : null}
      {is === 'unopened' ? (
        <>
          <Box mb="14px">
            Whoever keeps your books has a question. Open it in the browser in which you want to answer: from then on it
            opens in no other. No account is needed.
          </Box>
          <Button variant="solid" disabled={open.isPending} onClick={show}>
            Open the question
          </Button>
        </>
      ) : null}
      {is === 'open_elsewhere' && !failed ? (
        <Box>The question was opened in another browser. Answer it there, or ask whoever sent it for a new link.</Box>
      ) : null}
      {is === 'over' && !failed ? (
        <Box>The link is good no more: the question was closed, or its date has passed. Ask whoever sent it.</Box>
      ) : null}
    </Plain>
  )
}

const Question = ({
  token,
  question,
  onAnew,
}: {
  readonly token: string
  readonly question: LinkedQuestion
  readonly onAnew: () => void
}) => {
  const notice = useNotice()
  const { attach } = useQuestionActs(token)
  return (
    <Plain title={question.title}>
      <Box color="muted" textStyle="small">
        {question.askedBy} of {question.practice} asks about the books of {question.client},{' '}
        {momentText(question.askedAt, zone)} {zoneText(zone)}
      </Box>
      <Box whiteSpace="pre-wrap" fontSize="16px" my="12px" overflowWrap="anywhere">
        {question.text}
      </Box>
      {question.answers.map(answer => (
        <Box
          key={answer.at + answer.text}
          mb="8px"
          pl="10px"
          borderLeftWidth="2px"
          borderColor="bar"
          overflowWrap="anywhere"
        >
          <Box color="muted" textStyle="small">
            <Span color="ink" fontWeight="600">
              {answer.own ? 'You' : answer.by}
            </Span>{' '}
            {momentText(answer.at, zone)}
          </Box>
          <Box whiteSpace="pre-wrap">{answer.text}</Box>
        </Box>
      ))}
      <Evidence
        files={question.evidence}
        ownName="you"
        fetchFile={file => call(noteEndpoints.evidenceByLink, { body: { token, file } })}
      />
      {question.closed ? (
        <Box mt="12px">■ The question is closed. Thank you.</Box>
      ) : (
        <>
          <Answer token={token} onDone={onAnew} first={question.answers.length === 0} />
          <Box mt="16px">
            <FileButton
              label="Attach a picture or a PDF"
              accept="image/*,.pdf"
              busy={attach.isPending}
              onFiles={([file]) =>
                file &&
                attach.mutate(file, {
                  onError: notice.refuse,
                  onSuccess: () => {
                    notice.say('It is attached.')
                    onAnew()
                  },
                })
              }
            />
          </Box>
        </>
      )}
      <Box color="muted" textStyle="small" mt="16px">
        Open in this browser until {momentText(question.expiresAt, zone)} {zoneText(zone)}. What you write and attach
        goes to {question.practice}, and is kept with the books.
      </Box>
    </Plain>
  )
}

const Answer = ({
  token,
  first,
  onDone,
}: {
  readonly token: string
  readonly first: boolean
  readonly onDone: () => void
}) => {
  const notice = useNotice()
  const { answer } = useQuestionActs(token)
  const form = useSchemaForm(answerBody, { text: '' })
  const send = form.handleSubmit(({ text }) =>
    answer.mutate(text, {
      onError: notice.refuse,
      onSuccess: () => {
        form.reset({ text: '' })
        notice.say('Your answer is sent. Thank you.')
        onDone()
      },
    }),
  )
  return (
    <form noValidate onSubmit={onSubmit(answer.isPending, send)}>
      <Box mt="14px">
        <WordsField control={form.control} name="text" label={first ? 'Your answer' : 'Add to it'} rows={4} />
      </Box>
      <Flex mt="10px">
        <Button type="submit" variant="solid" minH="44px" px="22px" disabled={answer.isPending}>
          Send
        </Button>
      </Flex>
    </form>
  )
}
