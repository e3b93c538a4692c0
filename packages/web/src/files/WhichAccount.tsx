import { Button, Flex, Span } from '@chakra-ui/react'
import { bookEndpoints as books } from '@culvert/contract'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { bankAccountsQuery } from '../context/sharedQueries.ts'
import { FormField } from '../ui/form/FormField.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import type { UnknownAccount } from './useBring.ts'

interface WhichAccountProps {
  readonly of: UnknownAccount
  readonly onClose: () => void
  /** The number is known now: the file is brought in again. */
  readonly onKnown: (file: File) => void
}

/** Asks once which account a number on a statement is. */
export const WhichAccount = ({ of, onClose, onKnown }: WhichAccountProps) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const queries = useQueryClient()
  const { data } = useQuery(bankAccountsQuery(clientId))
  const without = data?.accounts.filter(account => account.bankNumber === null) ?? []
  const [chosen, setChosen] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const code = chosen ?? without[0]?.code ?? ''
  const keep = async () => {
    setBusy(true)
    try {
      const { account, version } = await call(books.chartAccount, { client: clientId, params: { account: code } })
      await call(books.saveAccount, {
        client: clientId,
        params: { account: code },
        body: { ...account, bankNumber: of.number, version },
      })
      await queries.invalidateQueries({ queryKey: ['client', clientId] })
      onKnown(of.file)
    } catch (error) {
      notice.refuse(error)
    } finally {
      setBusy(false)
    }
  }
  return (
    <Modal
      open
      title="Which account is it?"
      onClose={onClose}
      onSubmit={() => void keep()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={code === '' || busy}>
            Keep and bring in
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Span>
          {of.file.name} is of <Span textStyle="mono">{of.number}</Span>, which no account has yet. It is asked once.
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
            ◆ Every bank account has another number. Make one more in the chart first, of type bank.
          </Span>
        )}
      </Flex>
    </Modal>
  )
}
