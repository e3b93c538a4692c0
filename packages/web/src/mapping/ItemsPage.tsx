import { Box, Flex } from '@chakra-ui/react'
import type { AccountRow, ItemRow, TaxCodeRow } from '@culvert/contract'
import { parseAmount, printAmount } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { itemsQuery } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Button } from '../ui/Button.tsx'
import { amountText, dateText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { TaxCodePicker } from '../ui/TaxCodePicker.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { useMappingActs } from './mappingQueries.ts'
import { ProductsTable } from './ProductsTable.tsx'

const blank: ItemRow = { code: '', name: '', otherNames: [], account: '', taxCode: null, costs: [] }

/** What is sold: by SKU, with the account and tax code that a route to it brings, and what one of it costs. */
export const ItemsPage = () => {
  const { clientId, base, locale } = useClient()
  const { data } = useQuery(itemsQuery(clientId))
  const [draft, setDraft] = useState<ItemRow | null>(null)
  const nameOf = (code: string) => data?.accounts.find(account => account.code === code)?.name ?? ''
  return (
    <Page
      links={<MappingLinks here="items" />}
      title="Items"
      facts={<span>found by SKU, then by another name, then by its own name folded; two hits ask</span>}
      actions={
        <Button disabled={!data} onClick={() => setDraft(blank)}>
          Add an item
        </Button>
      }
    >
      <table className="sheet" aria-label="Items" style={{ tableLayout: 'fixed' }}>
        <thead>
          <tr>
            <th style={{ width: 140 }}>SKU</th>
            <th>Name</th>
            <th>Other names</th>
            <th style={{ width: 230 }}>Account</th>
            <th style={{ width: 84 }}>Tax</th>
            <th style={{ width: 110 }} className="right">
              Cost of one
            </th>
            <th style={{ width: 120 }}>From</th>
            <th style={{ width: 80 }} />
          </tr>
        </thead>
        <tbody>
          {data?.items.map(item => {
            const cost = item.costs.at(-1)
            return (
              <tr key={item.code}>
                <td className="mono">{item.code}</td>
                <td>{item.name}</td>
                <td className="muted" title={item.otherNames.join(', ')}>
                  {item.otherNames.join(', ')}
                </td>
                <td>
                  <span className="mono">{item.account}</span> {nameOf(item.account)}
                </td>
                <td className="mono">{item.taxCode ?? '–'}</td>
                <td className="right">{cost ? amountText(cost.cost, base, locale) : ''}</td>
                <td>{cost ? dateText(cost.from) : ''}</td>
                <td className="right">
                  <button type="button" className="linklike" onClick={() => setDraft(item)}>
                    Change
                  </button>
                </td>
              </tr>
            )
          })}
          {data?.items.length === 0 ? (
            <tr>
              <td colSpan={8} className="muted">
                No items. They are needed only where a route is to bring its account by what was sold, or where the cost
                of goods is booked.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {data ? <ProductsTable items={data.items} version={data.version} /> : null}
      {draft && data ? (
        <ItemDialog
          draft={draft}
          accounts={data.accounts}
          taxCodes={data.taxCodes}
          version={data.version}
          onClose={() => setDraft(null)}
        />
      ) : null}
    </Page>
  )
}

interface ItemDialogProps {
  readonly draft: ItemRow
  readonly accounts: readonly AccountRow[]
  readonly taxCodes: readonly TaxCodeRow[]
  /** Of the map that the item is written from. */
  readonly version: number
  readonly onClose: () => void
}

const ItemDialog = ({ draft, accounts, taxCodes, version, onClose }: ItemDialogProps) => {
  const { clientId, base } = useClient()
  const { saveItems } = useMappingActs(clientId)
  const notice = useNotice()
  const [item, setItem] = useState(draft)
  const [others, setOthers] = useState(draft.otherNames.join('; '))
  const latest = draft.costs.at(-1)
  const [cost, setCost] = useState(latest ? printAmount(latest.cost, base, 'en').replaceAll(',', '') : '')
  const [from, setFrom] = useState(latest?.from ?? '')
  const parsed = cost.trim() === '' ? null : parseAmount(cost.trim(), base)
  const costs =
    parsed?.ok && from !== ''
      ? [...draft.costs.filter(one => one.from !== from), { from, cost: parsed.minor }].sort((left, right) =>
          left.from < right.from ? -1 : 1,
        )
      : draft.costs
  const whole =
    item.code.trim() !== '' &&
    item.name.trim() !== '' &&
    item.account !== '' &&
    (parsed === null || (parsed.ok && parsed.minor >= 0 && from !== ''))
  const save = (): void =>
    saveItems.mutate(
      {
        version,
        items: [
          {
            ...item,
            costs,
            otherNames: others
              .split(';')
              .map(name => name.trim())
              .filter(Boolean),
          },
        ],
      },
      { onSuccess: onClose, onError: notice.refuse },
    )
  const field = { display: 'block', w: '100%', mt: '2px', mb: '8px' } as const
  return (
    <Modal
      open
      onClose={onClose}
      title={draft.code ? `Item ${draft.code}` : 'Add an item'}
      foot={
        <>
          <Button onClick={onClose}>Leave it</Button>
          <Button look="main" disabled={!whole || saveItems.isPending} onClick={save}>
            Save item
          </Button>
        </>
      }
    >
      <Flex gap="12px">
        <Box as="label" w="140px">
          SKU
          <Input
            {...field}
            value={item.code}
            disabled={draft.code !== ''}
            onChange={event => setItem({ ...item, code: event.target.value })}
          />
        </Box>
        <Box as="label" flex="1">
          Name
          <Input {...field} value={item.name} onChange={event => setItem({ ...item, name: event.target.value })} />
        </Box>
      </Flex>
      <Box as="label">
        Other names, with a semicolon between them
        <Input {...field} value={others} onChange={event => setOthers(event.target.value)} />
      </Box>
      <Flex gap="12px" mb="8px">
        <Box as="section" flex="1">
          Account
          <AccountPicker
            label="Account of the item"
            kind="sale"
            accounts={accounts}
            value={item.account || null}
            onChange={account => setItem({ ...item, account })}
          />
        </Box>
        <Box as="label" w="110px">
          Tax
          <TaxCodePicker
            label="Tax code of the item"
            codes={taxCodes}
            value={item.taxCode}
            onChange={taxCode => setItem({ ...item, taxCode })}
          />
        </Box>
      </Flex>
      <Flex gap="12px">
        <Box as="label" flex="1">
          Cost of one, {base}
          <Input {...field} inputMode="decimal" value={cost} onChange={event => setCost(event.target.value)} />
        </Box>
        <Box as="label" flex="1">
          From
          <Input {...field} type="date" value={from} onChange={event => setFrom(event.target.value)} />
        </Box>
      </Flex>
    </Modal>
  )
}
