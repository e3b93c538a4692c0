import { Box, Button, type ButtonProps } from '@chakra-ui/react'
import { type AskConsentBody, consentEndpoints, type Right } from '@culvert/contract'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { z } from 'zod'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { useMay } from '../context/useMay.ts'
import { WordsField } from './form/fields.tsx'
import { useSchemaForm } from './form/useSchemaForm.ts'
import { Modal } from './Modal.tsx'
import { useNotice } from './Notice.tsx'

interface AskConsentProps extends Pick<ButtonProps, 'disabled' | 'h' | 'aria-label'> {
  /** What one would need to do it alone. */
  readonly right: Right
  /** What is asked for, in words: “post 3 settlements”. */
  readonly what: string
  /** What is asked for, given the words that go with it. */
  readonly wanted: (note: string) => AskConsentBody['wanted']
  readonly label?: string
}

/** For whoever may prepare something and not do it: asks somebody who may. It waits on their course, as it stands now. */
export const AskConsent = ({ right, what, wanted, label = 'Ask for consent', ...button }: AskConsentProps) => {
  const may = useMay()
  const [asking, setAsking] = useState(false)
  if (may(right) || !may('settle')) return null
  return (
    <>
      <Button {...button} onClick={() => setAsking(true)}>
        {label}
      </Button>
      {asking ? <AskDialog what={what} wanted={wanted} onClose={() => setAsking(false)} /> : null}
    </>
  )
}

const words = z.object({ note: z.string().trim().max(500) })

const AskDialog = ({
  what,
  wanted,
  onClose,
}: Pick<AskConsentProps, 'what' | 'wanted'> & { readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const queries = useQueryClient()
  const form = useSchemaForm(words, { note: '' })
  const ask = useMutation({
    mutationFn: (note: string) =>
      call(consentEndpoints.askConsent, { client: clientId, body: { wanted: wanted(note), note } }),
    onError: notice.refuse,
    onSuccess: () => {
      onClose()
      notice.say('Asked. It waits for whoever may do it, as it stands now; what changes until then is not done.')
    },
    onSettled: () => void queries.invalidateQueries({ queryKey: ['client', clientId] }),
  })
  return (
    <Modal
      open
      title={`Ask for consent to ${what}`}
      onClose={onClose}
      changed={form.formState.isDirty}
      onSubmit={() => void form.handleSubmit(({ note }) => ask.mutate(note))()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={ask.isPending}>
            Ask
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Box color="muted" mb="10px">
        It is done in the name of whoever consents, if it is still exactly this by then.
      </Box>
      <WordsField control={form.control} name="note" label="A few words to it" autoFocus />
    </Modal>
  )
}
