import { Button, chakra, Input } from '@chakra-ui/react'
import { codeBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { useController } from 'react-hook-form'
import { z } from 'zod'
import { useClient } from '../context/ClientContext.tsx'
import { itemsQuery } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { TaxCodePicker } from '../ui/TaxCodePicker.tsx'

const coded = codeBody.omit({ bankLine: true }).extend({ memo: z.string().max(200) })
export type Coded = z.output<typeof coded>

interface CodeFormProps {
  /** The bank account that the line is on. */
  readonly from: string
  readonly amount: string
  /** Money out. */
  readonly paid: boolean
  readonly busy: boolean
  readonly onCode: (coded: Coded) => void
  readonly onLeave: () => void
}

/** Sends a bank line straight to an account, its tax taken out. */
export const CodeForm = ({ from, amount, paid, busy, onCode, onLeave }: CodeFormProps) => {
  const { clientId } = useClient()
  const { data } = useQuery(itemsQuery(clientId))
  const form = useSchemaForm(coded, { account: '', taxCode: null, memo: '' })
  const { control } = form
  const { field: account } = useController({ control, name: 'account' })
  const { field: taxCode } = useController({ control, name: 'taxCode' })
  // Money out is for a purchase, money in for a sale, unless the account says otherwise: what is paid back of a sale is no purchase.
  const type = data?.accounts.find(one => one.code === account.value)?.type
  const use = type === undefined ? (paid ? 'purchases' : 'sales') : type === 'income' ? 'sales' : 'purchases'
  const codes = (data?.taxCodes ?? []).filter(code => code.use === use)
  const codeInUse = codes.some(code => code.code === taxCode.value) ? taxCode.value : null
  const box = useRef<HTMLFormElement>(null)
  useEffect(() => box.current?.querySelector('input')?.focus(), [])
  const store = form.handleSubmit(value => onCode({ ...value, taxCode: codeInUse }))
  return (
    <chakra.form
      ref={box}
      display="flex"
      alignItems="center"
      gap="6px"
      onSubmit={event => void store(event)}
      onKeyDown={event => {
        if (event.key === 'Escape' && (event.target as HTMLInputElement).getAttribute('role') !== 'combobox') onLeave()
      }}
    >
      <AccountPicker
        label="Account of the bank line"
        kind="other_fee"
        accounts={(data?.accounts ?? []).filter(one => one.code !== from)}
        value={account.value === '' ? null : account.value}
        onChange={account.onChange}
      />
      <TaxCodePicker
        label="Tax code of the bank line"
        codes={codes}
        value={codeInUse}
        onChange={code => taxCode.onChange(code)}
      />
      <Input aria-label="What it was for" placeholder="What it was for" w="150px" {...form.register('memo')} />
      <Button
        type="submit"
        variant="solid"
        disabled={busy || account.value === ''}
        title={account.value === '' ? 'Choose the account that it goes to.' : undefined}
      >
        Book {amount}
      </Button>
      <Button variant="plain" onClick={onLeave}>
        Cancel
      </Button>
    </chakra.form>
  )
}
