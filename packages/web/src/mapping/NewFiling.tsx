import { Flex } from '@chakra-ui/react'
import { taxFilingBody } from '@culvert/contract'
import { lastDayOfMonth } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { DateField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { registrationsQuery, useMappingActs } from './mappingQueries.ts'

/** Says that a tax period was filed. */
export const NewFiling = ({ month }: { readonly month: string }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { fileTax } = useMappingActs(clientId)
  const form = useSchemaForm(taxFilingBody, {
    agency: '',
    from: `${month}-01`,
    to: lastDayOfMonth(month),
    filedOn: '',
  })
  const { control } = form
  const registrations = useQuery(registrationsQuery(clientId)).data?.registrations ?? []
  const chosen = form.watch('registration')
  const choose = (text: string) => {
    const found = registrations.find(one => String(one.id) === text)
    form.setValue('registration', found?.id)
    form.setValue('agency', found?.agency ?? '')
  }
  const store = form.handleSubmit(filing =>
    fileTax.mutate(filing, {
      onError: notice.refuse,
      onSuccess: () => {
        notice.say(`Marked as filed with ${filing.agency}. What is corrected in it is dated after it.`)
        form.reset({ ...filing, registration: undefined, agency: '', filedOn: '' })
      },
    }),
  )
  return (
    <Flex as="section" aria-label="A period that was filed" gap="10px" align="flex-start" mt="8px" wrap="wrap">
      {registrations.length > 0 ? (
        <FormField label="Registration" w="220px">
          <Select w="100%" value={String(chosen ?? '')} onChange={event => choose(event.target.value)}>
            <option value="">all tax codes</option>
            {registrations.map(one => (
              <option key={one.id} value={String(one.id)}>
                {one.agency} {one.number}
              </option>
            ))}
          </Select>
        </FormField>
      ) : null}
      {chosen === undefined ? <TextField control={control} name="agency" label="Agency" w="220px" /> : null}
      <DateField control={control} name="from" label="Period from" />
      <DateField control={control} name="to" label="Period to" />
      <DateField control={control} name="filedOn" label="Filed on" />
      <Act right="file" mt="24px" disabled={fileTax.isPending} onClick={() => void store()}>
        Mark as filed
      </Act>
    </Flex>
  )
}
