import { Button, Flex, Span } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { bankAccountsQuery } from '../context/sharedQueries.ts'
import { FormField } from '../ui/form/FormField.tsx'
import { Modal } from '../ui/Modal.tsx'
import { Select } from '../ui/Select.tsx'
import type { NumberOfAccount, UnknownAccount } from './useBring.ts'

interface WhichAccountProps {
  readonly of: UnknownAccount
  readonly onClose: () => void
  /** The account is chosen: the file is imported with it, and the number is kept once that worked. */
  readonly onKnown: (file: File, tie: NumberOfAccount) => void
}

/** Asks once which account a number on a statement is: of those in the statement's currency that have no number yet. */
export const WhichAccount = ({ of, onClose, onKnown }: WhichAccountProps) => {
  const { clientId } = useClient()
  const { data } = useQuery(bankAccountsQuery(clientId))
  const without =
    data?.accounts.filter(
      account => account.bankNumber === null && (of.currency === null || account.currency === of.currency),
    ) ?? []
  const [chosen, setChosen] = useState<string | null>(null)
  const code = chosen ?? without[0]?.code ?? ''
  const keep = () => onKnown(of.file, { number: of.number, account: code })
  return (
    <Modal
      open
      title="Which account is it?"
      onClose={onClose}
      onSubmit={keep}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={code === ''}>
            Import the statement
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Span>
          {of.file.name} is a statement of <Span textStyle="mono">{of.number}</Span>
          {of.currency ? ` in ${of.currency}` : ''}. No account has this number yet. It is kept once the statement has
          been imported.
        </Span>
        {without.length > 0 ? (
          <FormField label="Account">
            <Select value={code} onChange={event => setChosen(event.target.value)}>
              {without.map(account => (
                <option key={account.code} value={account.code}>
                  {account.code} {account.name} · {account.currency}
                </option>
              ))}
            </Select>
          </FormField>
        ) : (
          <Span color="ochre">
            ◆ No bank account{of.currency ? ` in ${of.currency}` : ''} is without a number. Add one of type bank in the
            chart first.
          </Span>
        )}
      </Flex>
    </Modal>
  )
}
