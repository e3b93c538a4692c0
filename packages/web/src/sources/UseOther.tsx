import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { AccountRow, GrantRow, ShopRow } from '@culvert/contract'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { useGrantActs } from './grantQueries.ts'

interface UseProps {
  readonly grant: GrantRow
  readonly shop: ShopRow
}

/** Which account of the chart an account of a bank is. */
export const UseBank = ({ grant, shop, accounts }: UseProps & { readonly accounts: readonly AccountRow[] }) => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const { useBank } = useGrantActs(clientId)
  const fit = accounts.filter(
    one =>
      ['bank', 'card'].includes(one.type) && !one.archived && (shop.currency === '' || one.currency === shop.currency),
  )
  const [account, setAccount] = useState(fit.length === 1 ? (fit[0]?.code ?? '') : '')
  return (
    <form
      noValidate
      onSubmit={onSubmit(useBank.isPending, async () =>
        useBank.mutate(
          { grant: grant.grantId, shop: shop.id, account },
          {
            onError: notice.refuse,
            onSuccess: () => {
              notice.say(`${shop.name} is connected to ${account}.`)
              void navigate(href('/bank/accounts'), { replace: true })
            },
          },
        ),
      )}
    >
      <Box maxW="560px">
        <FormField label="It is this account of the chart" hint="an account of the same currency">
          <Select w="100%" value={account} onChange={event => setAccount(event.target.value)}>
            <option value="">say it …</option>
            {fit.map(one => (
              <option key={one.code} value={one.code}>
                {one.code} {one.name} · {one.currency}
              </option>
            ))}
          </Select>
        </FormField>
        <Flex mt="16px" gap="12px" align="center">
          <Button type="submit" variant="solid" disabled={account === '' || useBank.isPending}>
            Connect it
          </Button>
          <Span color="muted" textStyle="small">
            {fit.length === 0
              ? `The chart has no bank account in ${shop.currency}: add one in Books first.`
              : 'Its lines are pulled when asked, in Bank. Lines that came as statements are known again.'}
          </Span>
        </Flex>
      </Box>
    </form>
  )
}

/** Links the books to a company of an outside ledger: then its lists can be brought over. */
export const UseLedger = ({ grant, shop }: UseProps) => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const { useLedger } = useGrantActs(clientId)
  return (
    <form
      noValidate
      onSubmit={onSubmit(useLedger.isPending, async () =>
        useLedger.mutate(
          { grant: grant.grantId, shop: shop.id },
          {
            onError: notice.refuse,
            onSuccess: () => {
              notice.say(`${shop.name} at ${grant.name} is linked. Its lists come from Books, and from Mapping.`)
              void navigate(href('/books'), { replace: true })
            },
          },
        ),
      )}
    >
      <Flex gap="12px" align="center">
        <Button type="submit" variant="solid" disabled={useLedger.isPending}>
          Link {shop.name}
        </Button>
        <Span color="muted" textStyle="small">
          Nothing is brought over yet: each list shows what it would change.
        </Span>
      </Flex>
    </form>
  )
}
