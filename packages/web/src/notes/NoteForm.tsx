import { Box, Button, Flex, Input } from '@chakra-ui/react'
import { type AddNoteBody, addNoteBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { z } from 'zod'
import type { About } from '../context/AboutContext.tsx'
import { useClient } from '../context/ClientContext.tsx'
import { SelectField, TextField, WordsField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { useNotice } from '../ui/Notice.tsx'
import { membersQuery, useNoteActs } from './noteQueries.ts'

// What is written: `who` is nobody, the client, or somebody's number.
const written = z.object({
  text: addNoteBody.shape.text,
  who: z.string(),
  email: z.union([z.literal(''), z.email('an e-mail address, as name@firm.example')]),
  days: z.string(),
})

const askOf = ({ who, email, days }: z.output<typeof written>): AddNoteBody['ask'] => {
  if (who === '') return { who: 'nobody' }
  if (who === 'client') return { who: 'client', email: email === '' ? null : email, days: Number(days) }
  return { who: 'person', person: Number(who) }
}

const blank = { text: '', who: '', email: '', days: '14' }

/** Notes something, or asks somebody of the practice, or the client by a link. */
export const NoteForm = ({ about }: { readonly about: About }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { data } = useQuery(membersQuery(clientId))
  const { add } = useNoteActs(clientId)
  const [link, setLink] = useState<string | null>(null)
  const form = useSchemaForm(written, blank)
  const who = form.watch('who')
  const send = form.handleSubmit(values =>
    add.mutate(
      { ...about, text: values.text, ask: askOf(values) },
      {
        onError: notice.refuse,
        onSuccess: made => {
          form.reset(blank)
          setLink(made.link)
          notice.say(saidOf(values.who, made.mailed))
        },
      },
    ),
  )
  return (
    <form noValidate onSubmit={onSubmit(add.isPending, send)}>
      <Flex direction="column" gap="8px">
        <WordsField control={form.control} name="text" label="Note or question" />
        <SelectField control={form.control} name="who" label="For">
          <option value="">nobody: a note</option>
          {data?.members.map(one => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
          <option value="client">the client, by a link</option>
        </SelectField>
        {who === 'client' ? (
          <Flex gap="8px" wrap="wrap">
            <Box flex="1 1 200px">
              <TextField
                control={form.control}
                name="email"
                label="Sent to"
                type="email"
                hint="Left empty, you hand the link over."
              />
            </Box>
            <SelectField control={form.control} name="days" label="Good for" w="110px">
              <option value="3">3 days</option>
              <option value="14">14 days</option>
              <option value="30">30 days</option>
              <option value="90">90 days</option>
            </SelectField>
          </Flex>
        ) : null}
        <Button type="submit" variant="solid" alignSelf="flex-start" disabled={add.isPending}>
          {who === '' ? 'Note it' : 'Ask'}
        </Button>
        {link ? (
          <Box textStyle="small">
            The link, shown once:
            <Input
              readOnly
              aria-label="Link of the question"
              w="100%"
              value={link}
              onFocus={event => event.target.select()}
            />
          </Box>
        ) : null}
      </Flex>
    </form>
  )
}

const saidOf = (who: string, mailed: boolean): string => {
  if (who === '') return 'Noted.'
  if (who !== 'client') return 'Asked: it stands on their course.'
  return mailed ? 'Asked: the letter with the link is on its way.' : 'Asked. No letter went: hand the link over.'
}
