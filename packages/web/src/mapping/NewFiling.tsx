import { Flex } from '@chakra-ui/react'
import { taxFilingBody } from '@culvert/contract'
import { lastDayOfMonth } from '@culvert/core'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { DateField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useMappingActs } from './mappingQueries.ts'

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
  const store = form.handleSubmit(filing =>
    fileTax.mutate(filing, {
      onError: notice.refuse,
      onSuccess: () => {
        notice.say(`Marked as filed with ${filing.agency}. What is corrected in it is dated after it.`)
        form.reset({ ...filing, agency: '', filedOn: '' })
      },
    }),
  )
  return (
    <Flex as="section" aria-label="A period that was filed" gap="10px" align="flex-start" mt="8px" wrap="wrap">
      <TextField control={control} name="agency" label="Agency" w="220px" />
      <DateField control={control} name="from" label="Period from" />
      <DateField control={control} name="to" label="Period to" />
      <DateField control={control} name="filedOn" label="Filed on" />
      <Act right="file" mt="24px" disabled={fileTax.isPending} onClick={() => void store()}>
        Mark as filed
      </Act>
    </Flex>
  )
}
