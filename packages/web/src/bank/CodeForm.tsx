import { Box, Button, Input } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { itemsQuery } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { TaxCodePicker } from '../ui/TaxCodePicker.tsx'

export interface Coded {
  readonly account: string
  readonly taxCode: string | null
  readonly memo: string
}

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
  const [account, setAccount] = useState<string | null>(null)
  const [taxCode, setTaxCode] = useState<string | null>(null)
  const [memo, setMemo] = useState('')
  // Money out is for a purchase, money in for a sale, unless the account says otherwise: what is paid back of a sale is no purchase.
  const type = data?.accounts.find(one => one.code === account)?.type
  const use = type === undefined ? (paid ? 'purchases' : 'sales') : type === 'income' ? 'sales' : 'purchases'
  const codes = (data?.taxCodes ?? []).filter(code => code.use === use)
  const codeInUse = codes.some(code => code.code === taxCode) ? taxCode : null
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => box.current?.querySelector('input')?.focus(), [])
  return (
    <Box
      ref={box}
      css={{ '& [cmdk-list]': { top: 'auto', bottom: '32px' } }}
      display="flex"
      alignItems="center"
      gap="6px"
      onKeyDown={event => {
        if (event.key === 'Escape' && (event.target as HTMLInputElement).getAttribute('role') !== 'combobox') onLeave()
      }}
    >
      <AccountPicker
        label="Account of the bank line"
        kind="other_fee"
        accounts={(data?.accounts ?? []).filter(one => one.code !== from)}
        value={account}
        onChange={setAccount}
      />
      <TaxCodePicker label="Tax code of the bank line" codes={codes} value={codeInUse} onChange={setTaxCode} />
      <Input
        aria-label="What it was for"
        placeholder="What it was for"
        w="150px"
        value={memo}
        onChange={event => setMemo(event.target.value)}
      />
      <Button
        variant="solid"
        disabled={busy || account === null}
        onClick={() => account !== null && onCode({ account, taxCode: codeInUse, memo })}
      >
        Book {amount}
      </Button>
      <Button variant="plain" onClick={onLeave}>
        Cancel
      </Button>
    </Box>
  )
}
