import { Box, Button, Input } from '@chakra-ui/react'
import type { AccountRow } from '@culvert/contract'
import { type AccountType, accountTypes } from '@culvert/core'
import { useEffect, useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { freeCode } from './freeCode.ts'
import { Modal } from './Modal.tsx'
import { Select } from './Select.tsx'
import { accountTypeText } from './words.ts'

interface NewAccountProps {
  readonly open: boolean
  readonly name: string
  readonly type: AccountType
  readonly accounts: readonly AccountRow[]
  readonly onClose: () => void
  readonly onMade: (code: string) => void
}

/** Accounts that hold one currency alone. */
const bound = new Set(['bank', 'card', 'clearing'])

/** Makes an account of the chart where it was found missing. */
export const NewAccountDialog = ({ open, name, type, accounts, onClose, onMade }: NewAccountProps) => {
  const { clientId, base } = useClient()
  const { addAccount } = useMapActs(clientId)
  const [draft, setDraft] = useState({ code: '', name: '', type: type as string, currency: base })
  const [problem, setProblem] = useState('')
  useEffect(() => {
    if (open) setDraft({ code: freeCode(accounts, type), name, type, currency: base })
    setProblem('')
  }, [open, name, type, accounts, base])
  const make = () =>
    addAccount.mutate(
      { code: draft.code, name: draft.name, type: draft.type as AccountType, currency: draft.currency },
      { onSuccess: () => onMade(draft.code), onError: error => setProblem(error.message) },
    )
  const field = { display: 'block', w: '100%', mt: '2px', mb: '10px' } as const
  return (
    <Modal
      open={open}
      onClose={onClose}
      title="Make an account"
      foot={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            variant="solid"
            disabled={draft.name.trim() === '' || draft.code.trim() === '' || addAccount.isPending}
            onClick={make}
          >
            Make account
          </Button>
        </>
      }
    >
      <Box as="label">
        Code
        <Input {...field} value={draft.code} onChange={event => setDraft({ ...draft, code: event.target.value })} />
      </Box>
      <Box as="label">
        Name
        <Input {...field} value={draft.name} onChange={event => setDraft({ ...draft, name: event.target.value })} />
      </Box>
      <Box as="label">
        Type
        <Select {...field} value={draft.type} onChange={event => setDraft({ ...draft, type: event.target.value })}>
          {accountTypes.map(one => (
            <option key={one} value={one}>
              {accountTypeText(one)}
            </option>
          ))}
        </Select>
      </Box>
      {bound.has(draft.type) ? (
        <Box as="label">
          Currency
          <Input
            {...field}
            value={draft.currency}
            onChange={event => setDraft({ ...draft, currency: event.target.value.toUpperCase() })}
          />
        </Box>
      ) : null}
      {problem ? (
        <Box role="alert" color="crimson">
          {problem}
        </Box>
      ) : null}
    </Modal>
  )
}
