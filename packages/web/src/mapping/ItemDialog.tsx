import { Box, Button, Flex } from '@chakra-ui/react'
import { type AccountRow, type ItemRow, itemRow, type TaxCodeRow } from '@culvert/contract'
import { useController } from 'react-hook-form'
import { z } from 'zod'
import { useClient } from '../context/ClientContext.tsx'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { AmountField, DateField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { TaxCodePicker } from '../ui/TaxCodePicker.tsx'
import { useMappingActs } from './mappingQueries.ts'

interface ItemDialogProps {
  readonly draft: ItemRow
  readonly accounts: readonly AccountRow[]
  readonly taxCodes: readonly TaxCodeRow[]
  /** Of the map that the item is written from. */
  readonly version: number
  readonly onClose: () => void
}

/** An item as it is written here: its other names in a line, and of its costs the latest. */
const itemForm = itemRow
  .pick({ code: true, name: true, taxCode: true })
  .extend({
    account: z.string().min(1, 'Choose the account.'),
    others: z.string(),
    cost: z.number().int().nonnegative('Not below zero.').nullable(),
    from: z.string(),
  })
  .refine(({ cost, from }) => cost === null || from !== '', { path: ['from'], error: 'From when?' })

/** An item of the ledger: what is sold, where its sales go, what one costs. */
export const ItemDialog = ({ draft, accounts, taxCodes, version, onClose }: ItemDialogProps) => {
  const { clientId, base } = useClient()
  const { saveItems } = useMappingActs(clientId)
  const notice = useNotice()
  const latest = draft.costs.at(-1)
  const form = useSchemaForm(itemForm, {
    code: draft.code,
    name: draft.name,
    account: draft.account,
    taxCode: draft.taxCode,
    others: draft.otherNames.join('; '),
    cost: latest?.cost ?? null,
    from: latest?.from ?? '',
  })
  const { control } = form
  const account = useController({ control, name: 'account' })
  const taxCode = useController({ control, name: 'taxCode' })
  const store = form.handleSubmit(({ others, cost, from, ...item }) =>
    saveItems.mutate(
      {
        version,
        items: [
          {
            ...item,
            costs:
              cost === null
                ? draft.costs
                : [...draft.costs.filter(one => one.from !== from), { from, cost }].sort((left, right) =>
                    left.from < right.from ? -1 : 1,
                  ),
            otherNames: others
              .split(';')
              .map(name => name.trim())
              .filter(Boolean),
          },
        ],
      },
      { onSuccess: onClose, onError: notice.refuse },
    ),
  )
  return (
    <Modal
      open
      onSubmit={() => void store()}
      changed={form.formState.isDirty}
      onClose={onClose}
      title={draft.code ? `Item ${draft.code}` : 'Add an item'}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={saveItems.isPending}>
            Save item
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Flex gap="12px">
          <TextField control={control} name="code" label="SKU" w="140px" disabled={draft.code !== ''} />
          <Box flex="1">
            <TextField control={control} name="name" label="Name" />
          </Box>
        </Flex>
        <TextField control={control} name="others" label="Other names, with a semicolon between them" />
        <Flex gap="12px">
          <FormField label="Account" fault={account.fieldState.error?.message} flex="1">
            <AccountPicker
              label="Account of the item"
              kind="sale"
              accounts={accounts}
              value={account.field.value || null}
              onChange={account.field.onChange}
            />
          </FormField>
          <FormField label="Tax" w="110px">
            <TaxCodePicker
              label="Tax code of the item"
              codes={taxCodes}
              value={taxCode.field.value ?? null}
              onChange={taxCode.field.onChange}
            />
          </FormField>
        </Flex>
        <Flex gap="12px">
          <AmountField control={control} name="cost" currency={base} label={`Cost of one, ${base}`} w="180px" />
          <DateField control={control} name="from" label="From" />
        </Flex>
      </Flex>
    </Modal>
  )
}
