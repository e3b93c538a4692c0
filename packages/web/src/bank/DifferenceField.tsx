import { Box, Span } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { itemsQuery } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'

interface DifferenceFieldProps {
  readonly value: string | null
  readonly onChange: (account: string) => void
}

/** Chooses where what lies between a payout and its deposit is booked. */
export const DifferenceField = ({ value, onChange }: DifferenceFieldProps) => {
  const { clientId } = useClient()
  const { data } = useQuery(itemsQuery(clientId))
  const accounts = (data?.accounts ?? []).filter(account => !['bank', 'card', 'clearing'].includes(account.type))
  return (
    <Box display="flex" alignItems="center" gap="6px">
      <Span color="muted" textStyle="small">
        difference to
      </Span>
      <AccountPicker
        label="Account of the difference"
        kind="other_fee"
        accounts={accounts}
        value={value}
        onChange={onChange}
      />
    </Box>
  )
}
