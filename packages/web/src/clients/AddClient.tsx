import { Button, Flex } from '@chakra-ui/react'
import { clientForm } from '@culvert/contract'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { CalendarFields, CountryField } from './ClientFields.tsx'
import { useClientActs } from './clientQueries.ts'
import { usualIn } from './countries.ts'

const here = Intl.DateTimeFormat().resolvedOptions()

/** Takes a client on: its name and country, and what is usual there for all else. */
const AddClient = ({ onClose }: { readonly onClose: () => void }) => {
  const notice = useNotice()
  const navigate = useNavigate()
  const { add } = useClientActs()
  const [more, setMore] = useState(false)
  const form = useSchemaForm(
    clientForm,
    {
      ...{ name: '', country: '', base: '', locale: 'en-IE', timeZone: here.timeZone, cutOff: '00:00' },
      ...{ fiscalStart: 1, firstNumber: 1 },
    },
    { grows: true },
  )
  const { control } = form
  const country = form.watch('country')
  const [known, setKnown] = useState('')
  // What is usual in a country is taken when it is chosen, and stays changeable.
  if (country && country !== known) {
    setKnown(country)
    const usual = usualIn(country)
    if (usual) for (const name of ['base', 'locale', 'timeZone'] as const) form.setValue(name, usual[name])
  }
  const take = form.handleSubmit(client =>
    add.mutate(client, {
      onError: notice.refuse,
      onSuccess: ({ clientId }) => void navigate(`/c/${clientId}/books`),
    }),
  )
  return (
    <Modal
      open
      title="Take a client on"
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => void take()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={add.isPending}>
            Take on
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="plain" ml="auto" aria-expanded={more} onClick={() => setMore(!more)}>
            {more ? 'Fewer facts' : 'Time zone, fiscal year, numbers'}
          </Button>
        </>
      }
    >
      <Flex direction="column" gap="12px">
        <TextField control={control} name="name" label="Name" autoFocus />
        <Flex gap="12px">
          <CountryField control={control} name="country" />
          <TextField control={control} name="base" label="Base currency" placeholder="as EUR" w="150px" />
        </Flex>
        {more ? (
          <>
            <CalendarFields
              control={control}
              names={{ timeZone: 'timeZone', cutOff: 'cutOff', fiscalStart: 'fiscalStart', firstNumber: 'firstNumber' }}
            />
            <TextField
              control={control}
              name="locale"
              label="Numbers and dates are written as in"
              hint="a language and country, as en-IE"
              w="240px"
            />
          </>
        ) : null}
      </Flex>
    </Modal>
  )
}

export default AddClient
