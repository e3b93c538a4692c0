import { Flex } from '@chakra-ui/react'
import { rateRow } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { DateField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'

/** Takes one exchange rate. */
export const RateForm = () => {
  const { clientId, base } = useClient()
  const { saveRates } = useMapActs(clientId)
  const notice = useNotice()
  const form = useSchemaForm(rateRow, { date: '', from: '', to: base, rate: '' })
  const { control } = form
  const store = form.handleSubmit(row =>
    saveRates.mutate([row], {
      onSuccess: () => {
        notice.say(`From ${dateText(row.date)} on, 1 ${row.from} is ${row.rate} ${base}.`)
        form.reset({ ...row, rate: '' })
      },
      onError: notice.refuse,
    }),
  )
  return (
    <Flex gap="10px" align="flex-end" flex="1" wrap="wrap">
      <DateField control={control} name="date" label="First day of the rate" />
      <TextField control={control} name="from" label="Currency" placeholder="as USD" w="90px" />
      <TextField control={control} name="rate" label={`Rate, in ${base}`} inputMode="decimal" w="140px" />
      <Act right="map" variant="solid" disabled={saveRates.isPending} onClick={() => void store()}>
        Use this rate
      </Act>
    </Flex>
  )
}
