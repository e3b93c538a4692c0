import { Button, chakra, Flex, Input, Span } from '@chakra-ui/react'
import type { ProofPage as ProofFacts } from '@culvert/contract'
import { printAmount, typedAmount } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useStatedBalance } from './clearingQueries.ts'

/** Takes what somebody outside says the account holds at the page's date: an agency, a lender, a till's list of gift cards. */
export const StatedForm = ({ page }: { readonly page: ProofFacts }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const state = useStatedBalance(clientId)
  const here = page.sourceName === 'it was stated' && page.reportedOn === page.date ? page.reported : null
  const [text, setText] = useState(here === null ? '' : printAmount(here, page.currency, locale))
  const parsed = typedAmount(text, page.currency, locale)
  const save = (amount: number | null) =>
    state.mutate(
      { account: page.account, currency: page.currency, date: page.date, amount },
      {
        onError: notice.refuse,
        onSuccess: () =>
          notice.say(
            amount === null ? 'Taken away.' : `Stated for ${dateText(page.date)}. The proof is held against it.`,
          ),
      },
    )
  return (
    <Flex as="section" aria-label="State the balance" gap="8px" align="center" mt="12px" wrap="wrap">
      <chakra.label htmlFor="stated" color="muted" textStyle="small">
        Stated at {dateText(page.date)}, what is owed with a minus
      </chakra.label>
      <Input
        id="stated"
        w="130px"
        textAlign="right"
        value={text}
        inputMode="decimal"
        onChange={event => setText(event.target.value)}
      />
      <Button
        variant="solid"
        disabled={!parsed.ok || state.isPending}
        onClick={() => {
          if (parsed.ok) save(parsed.minor)
        }}
      >
        Hold the books against it
      </Button>
      {here === null ? null : (
        <Button variant="plain" disabled={state.isPending} onClick={() => save(null)}>
          Take it away
        </Button>
      )}
      {text !== '' && !parsed.ok ? (
        <Span color="crimson" textStyle="small">
          an amount in {page.currency}, like {printAmount(-123_450, page.currency, locale)}
        </Span>
      ) : null}
    </Flex>
  )
}
