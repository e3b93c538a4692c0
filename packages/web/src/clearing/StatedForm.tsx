import { Flex } from '@chakra-ui/react'
import { type ProofPage as ProofFacts, statedBody } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { AmountField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useStatedBalance } from './clearingQueries.ts'

// To take what was stated away is an act of its own: here an amount is asked for.
const stated = statedBody.refine(({ amount }) => amount !== null, { path: ['amount'], error: 'Fill this in.' })

/** Takes what somebody outside says the account holds at the page's date: an agency, a lender, a till's list of gift cards. */
export const StatedForm = ({ page }: { readonly page: ProofFacts }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const state = useStatedBalance(clientId)
  const here = page.sourceName === 'it was stated' && page.reportedOn === page.date ? page.reported : null
  const { currency, date, account } = page
  const form = useSchemaForm(stated, { currency, date, amount: here })
  const save = (amount: number | null) =>
    state.mutate(
      { account, currency, date, amount },
      {
        onError: notice.refuse,
        onSuccess: () =>
          notice.say(amount === null ? 'Taken away.' : `Stated for ${dateText(date)}. The proof is held against it.`),
      },
    )
  return (
    <Flex as="section" aria-label="State the balance" gap="10px" align="flex-end" mt="12px" wrap="wrap">
      <AmountField
        control={form.control}
        name="amount"
        currency={currency}
        label={`Stated at ${dateText(date)}, what is owed with a minus`}
        w="280px"
      />
      <Act
        right="settle"
        variant="solid"
        disabled={state.isPending}
        onClick={() => void form.handleSubmit(body => save(body.amount))()}
      >
        Hold the books against it
      </Act>
      {here === null ? null : (
        <Act right="settle" variant="plain" disabled={state.isPending} onClick={() => save(null)}>
          Take it away
        </Act>
      )}
    </Flex>
  )
}
