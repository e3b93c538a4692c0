import { Box, Button, Flex, Input } from '@chakra-ui/react'
import { askOwnerBody, type ConnectableSort } from '@culvert/contract'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useGrantActs } from './grantQueries.ts'
import { askedOf, neverText, scopesText } from './grantText.ts'

interface AskOwnerProps {
  readonly service: { readonly key: string; readonly name: string; readonly sort?: ConnectableSort }
  /** The source that is to be connected again. */
  readonly forSource: string | null
  readonly onClose: () => void
}

/** Asks the client's own people by a link, where the bookkeeper may not grant: what they will be shown stands here. */
export const AskOwner = ({ service, forSource, onClose }: AskOwnerProps) => {
  const { clientId, name } = useClient()
  const notice = useNotice()
  const { askOwner } = useGrantActs(clientId)
  const [link, setLink] = useState<string | null>(null)
  const form = useSchemaForm(askOwnerBody, {
    service: service.key,
    forSource,
    email: '',
    days: 7,
    personalData: 'name',
  })
  const ask = form.handleSubmit(body =>
    askOwner.mutate(body, {
      onError: notice.refuse,
      onSuccess: made => {
        setLink(made.link)
        notice.say(
          made.mailed ? 'Asked: the letter with the link is on its way.' : 'Asked. No letter went: hand the link over.',
        )
      },
    }),
  )
  return (
    <Modal
      open
      title={`Ask the owner of ${name}`}
      changed={form.formState.isDirty && link === null}
      onClose={onClose}
      onSubmit={() => void ask()}
      foot={
        link === null ? (
          <>
            <Button type="submit" variant="solid" disabled={askOwner.isPending}>
              Ask
            </Button>
            <Button onClick={onClose}>Cancel</Button>
          </>
        ) : (
          <Button onClick={onClose}>Close</Button>
        )
      }
    >
      <Flex direction="column" gap="12px">
        <Box>
          They sign in at {service.name} themselves; nobody sees a password. Culvert would read{' '}
          {scopesText(askedOf(service.sort))}. It never {neverText(askedOf(service.sort))}.
        </Box>
        {link === null ? (
          <Flex gap="12px">
            <TextField
              control={form.control}
              name="email"
              label="Sent to"
              type="email"
              hint="Left empty, you hand the link over."
              autoFocus
            />
            <SelectField control={form.control} name="days" label="Good for" w="130px">
              <option value={3}>3 days</option>
              <option value={7}>7 days</option>
              <option value={30}>30 days</option>
            </SelectField>
          </Flex>
        ) : (
          <Box textStyle="small">
            The link, shown once; it works once, in the browser in which it is begun:
            <Input
              readOnly
              aria-label="Link for the owner"
              w="100%"
              value={link}
              onFocus={event => event.target.select()}
            />
          </Box>
        )}
      </Flex>
    </Modal>
  )
}
