import { Box, Button, Flex, Input } from '@chakra-ui/react'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { DateInput } from '../ui/DateInput.tsx'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'

/** Brings in the exchange rate that a settlement waits for, from where it was found missing. */
export const QuickRate = ({ currency, entryDate }: { readonly currency: string; readonly entryDate: string }) => {
  const { clientId, base } = useClient()
  const { saveRates } = useMapActs(clientId)
  const notice = useNotice()
  const [rate, setRate] = useState('')
  const [date, setDate] = useState(entryDate)
  const plain = rate.trim().replace(',', '.')
  const store = (): void =>
    saveRates.mutate([{ date, from: currency, to: base, rate: plain }], {
      onSuccess: () => notice.say(`From ${dateText(date)} on, 1 ${currency} is ${plain} ${base}.`),
      onError: notice.refuse,
    })
  return (
    <Flex gap="8px" align="center" mt="4px" wrap="wrap">
      <Box as="label">
        1 {currency} ={' '}
        <Input
          w="110px"
          h="28px"
          inputMode="decimal"
          aria-label={`Rate of ${currency} in ${base}`}
          value={rate}
          onChange={event => setRate(event.target.value)}
        />{' '}
        {base}, from{' '}
      </Box>
      <Box as="label">
        <DateInput h="28px" aria-label="First day of the rate" value={date} onChange={setDate} /> on
      </Box>
      <Button variant="solid" disabled={!(Number(plain) > 0) || date === '' || saveRates.isPending} onClick={store}>
        Use this rate
      </Button>
    </Flex>
  )
}
