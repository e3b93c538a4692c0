import { Box, Button, Flex } from '@chakra-ui/react'
import { type RegistrationBody, type RegistrationList, registrationBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { Check } from '../ui/form/Check.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { registrationsQuery, useMappingActs } from './mappingQueries.ts'

type Registration = RegistrationList['registrations'][number]
type Draft = RegistrationBody & { readonly id: number | null }

const fresh: Draft = { id: null, agency: '', country: '', number: '', codes: [] }

/** Where the client is registered for tax: a filed period holds only entries whose tax codes feed its registration. */
export const Registrations = () => {
  const { clientId } = useClient()
  const { data } = useQuery(registrationsQuery(clientId))
  const [edited, setEdited] = useState<Draft | null>(null)
  const columns: readonly SheetColumn<Registration>[] = [
    { id: 'agency', head: 'Agency', value: one => one.agency, cell: one => one.agency },
    { id: 'country', head: 'Country', value: one => one.country, cell: one => one.country },
    { id: 'number', head: 'Number', value: one => one.number, cell: one => one.number },
    {
      id: 'codes',
      head: 'Tax codes',
      wraps: true,
      value: one => one.codes.join(', '),
      cell: one => one.codes.join(', '),
    },
    {
      id: 'act',
      head: '',
      cell: one => (
        <Act right="file" variant="ghost" onClick={() => setEdited(one)}>
          Change
        </Act>
      ),
    },
  ]
  return (
    <Box as="section" aria-label="Tax registrations" mt="18px">
      <Flex gap="12px" align="center" mb="6px">
        <Box as="h2" fontSize="15px" fontWeight="600">
          Tax registrations
        </Box>
        <Act right="file" onClick={() => setEdited(fresh)}>
          Add a registration
        </Act>
      </Flex>
      <Box w="fit-content" minW="760px">
        <SheetTable
          scope="registration-"
          label="Tax registrations"
          columns={columns}
          rows={data?.registrations ?? []}
          rowKey={one => String(one.id)}
          empty="No registration yet: a filed period holds every entry with tax."
        />
      </Box>
      {edited && data ? <RegistrationDialog of={edited} list={data} onClose={() => setEdited(null)} /> : null}
    </Box>
  )
}

const RegistrationDialog = ({
  of,
  list,
  onClose,
}: {
  readonly of: Draft
  readonly list: RegistrationList
  readonly onClose: () => void
}) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { saveRegistration } = useMappingActs(clientId)
  const form = useSchemaForm(registrationBody, {
    ...{ agency: of.agency, country: of.country, number: of.number, codes: [...of.codes] },
  })
  const { control } = form
  const codes = form.watch('codes')
  const all = [...new Set([...list.registrations.flatMap(one => one.codes), ...list.without])].sort()
  const toggle = (code: string) =>
    form.setValue('codes', codes.includes(code) ? codes.filter(one => one !== code) : [...codes, code], {
      shouldDirty: true,
    })
  const store = form.handleSubmit(body =>
    saveRegistration.mutate({ id: of.id, ...body }, { onError: notice.refuse, onSuccess: onClose }),
  )
  return (
    <Modal
      open
      title={of.id === null ? 'Add a registration' : `Registration with ${of.agency}`}
      changed={form.formState.isDirty}
      onSubmit={() => void store()}
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={saveRegistration.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <TextField control={control} name="agency" label="Agency" autoFocus />
        <TextField control={control} name="country" label="Country" placeholder="e.g. IE" w="120px" />
        <TextField control={control} name="number" label="Registration number" />
        <FormField label="Tax codes that feed its returns">
          <Flex gap="12px" wrap="wrap">
            {all.map(code => (
              <Check key={code} checked={codes.includes(code)} onChange={() => toggle(code)}>
                {code}
              </Check>
            ))}
          </Flex>
        </FormField>
      </Flex>
    </Modal>
  )
}
