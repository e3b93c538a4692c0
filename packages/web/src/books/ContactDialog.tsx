import { Button, Flex } from '@chakra-ui/react'
import { type ContactRow, contactRow } from '@culvert/contract'
import { z } from 'zod'
import { useClient } from '../context/ClientContext.tsx'
import { SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useContactActs } from './contactQueries.ts'
import { contactSortText } from './contactText.ts'

const orNull = <Of extends z.ZodType>(of: Of) => z.union([z.literal('').transform(() => null), of])
const contactForm = contactRow.extend({
  email: orNull(z.email('an e-mail address')),
  taxNumber: orNull(z.string().trim().max(60)),
  country: orNull(
    z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^[A-Z]{2}$/, 'a country, as IE'),
  ),
})

/** Adds a contact, or changes one; its number stays. */
export const ContactDialog = ({
  contact,
  onClose,
}: {
  readonly contact: ContactRow | null
  readonly onClose: () => void
}) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { save, remove } = useContactActs(clientId)
  const form = useSchemaForm(contactForm, {
    code: contact?.code ?? '',
    name: contact?.name ?? '',
    sort: contact?.sort ?? 'customer',
    email: contact?.email ?? '',
    taxNumber: contact?.taxNumber ?? '',
    country: contact?.country ?? '',
  })
  const { control } = form
  const done = (text: string) => ({
    onError: notice.refuse,
    onSuccess: () => {
      notice.say(text)
      onClose()
    },
  })
  const store = form.handleSubmit(wanted => save.mutate([wanted], done(`${wanted.name} is saved.`)))
  return (
    <Modal
      open
      title={contact ? contact.name : 'Add a contact'}
      onClose={onClose}
      onSubmit={() => void store()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={save.isPending}>
            {contact ? 'Save' : 'Add'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          {contact ? (
            <Button
              variant="plain"
              disabled={remove.isPending}
              onClick={() => remove.mutate(contact.code, done(`${contact.name} is removed.`))}
            >
              Remove
            </Button>
          ) : null}
        </>
      }
    >
      <Flex direction="column" gap="12px">
        <Flex gap="12px">
          <TextField control={control} name="name" label="Name" autoFocus />
          <SelectField control={control} name="sort" label="It is a">
            {Object.entries(contactSortText).map(([sort, text]) => (
              <option key={sort} value={sort}>
                {text}
              </option>
            ))}
          </SelectField>
        </Flex>
        <Flex gap="12px">
          <TextField
            control={control}
            name="code"
            label="Number"
            hint={contact ? 'stays' : 'as in the former books'}
            disabled={contact !== null}
          />
          <TextField control={control} name="taxNumber" label="Tax number" />
          <TextField control={control} name="country" label="Country" placeholder="as IE" w="110px" />
        </Flex>
        <TextField control={control} name="email" label="E-mail" />
      </Flex>
    </Modal>
  )
}
