import { Button, Flex } from '@chakra-ui/react'
import { type AccountRow, newAccount } from '@culvert/contract'
import { type AccountType, accountTypes, freeCode } from '@culvert/core'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { SelectField, TextField } from './form/fields.tsx'
import { useSchemaForm } from './form/useSchemaForm.ts'
import { Modal } from './Modal.tsx'
import { useNotice } from './Notice.tsx'
import { accountTypeText } from './words.ts'

export interface NewAccountProps {
  readonly open: boolean
  readonly name: string
  readonly type: AccountType
  readonly accounts: readonly AccountRow[]
  readonly onClose: () => void
  readonly onMade: (code: string) => void
}

/** Accounts that hold one currency alone. */
const bound = new Set<AccountType>(['bank', 'card', 'clearing'])

/** Makes an account of the chart where it was found missing. */
const NewAccount = ({ name, type, accounts, onClose, onMade }: Omit<NewAccountProps, 'open'>) => {
  const { clientId, base } = useClient()
  const notice = useNotice()
  const { addAccount } = useMapActs(clientId)
  const form = useSchemaForm(newAccount, { code: freeCode(accounts, type), name, type, currency: base })
  const { control } = form
  const make = form.handleSubmit(account =>
    addAccount.mutate(account, { onSuccess: () => onMade(account.code), onError: notice.refuse }),
  )
  return (
    <Modal
      open
      onSubmit={() => void make()}
      changed={form.formState.isDirty}
      onClose={onClose}
      title="Make an account"
      foot={
        <>
          <Button type="submit" variant="solid" disabled={addAccount.isPending}>
            Make account
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <TextField control={control} name="code" label="Code" w="140px" />
        <TextField control={control} name="name" label="Name" />
        <SelectField control={control} name="type" label="Type">
          {accountTypes.map(one => (
            <option key={one} value={one}>
              {accountTypeText(one)}
            </option>
          ))}
        </SelectField>
        {bound.has(form.watch('type')) ? (
          <TextField control={control} name="currency" label="Currency" hint="three letters" w="140px" />
        ) : null}
      </Flex>
    </Modal>
  )
}

export default NewAccount
