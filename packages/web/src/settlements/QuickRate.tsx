import { Flex, Span } from '@chakra-ui/react'
import { rateRow } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { DateField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'

/** Brings in the exchange rate that a settlement waits for, from where it was found missing. */
export const QuickRate = ({ currency, entryDate }: { readonly currency: string; readonly entryDate: string }) => {
  const { clientId, base } = useClient()
  const { saveRates } = useMapActs(clientId)
  const notice = useNotice()
  const form = useSchemaForm(rateRow, { date: entryDate, from: currency, to: base, rate: '' })
  const { control } = form
  const store = form.handleSubmit(row =>
    saveRates.mutate([row], {
      onSuccess: () => notice.say(`From ${dateText(row.date)} on, 1 ${currency} is ${row.rate} ${base}.`),
      onError: notice.refuse,
    }),
  )
  return (
    <Flex gap="10px" align="flex-end" mt="4px" wrap="wrap">
      <TextField control={control} name="rate" label={`Rate of ${currency} in ${base}`} inputMode="decimal" w="150px" />
      <DateField control={control} name="date" label="First day of the rate" />
      <Act right="map" variant="solid" disabled={saveRates.isPending} onClick={() => void store()}>
        Use this rate
      </Act>
      <Span color="muted" textStyle="small" pb="8px">
        1 {currency} = so many {base}, until the next rate
      </Span>
    </Flex>
  )
}
