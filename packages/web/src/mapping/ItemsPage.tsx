import { Box, Button, Flex, Input, Span, Table } from '@chakra-ui/react'
import type { AccountRow, ItemRow, TaxCodeRow } from '@culvert/contract'
import { printAmount, typedAmount } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { itemsQuery } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { amountText, dateText } from '../ui/formats.ts'
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
  const query = useQuery(itemsQuery(clientId))
  const { data } = query
  const [draft, setDraft] = useState<ItemRow | null>(null)
  const nameOf = (code: string) => data?.accounts.find(account => account.code === code)?.name ?? ''
  return (
    <Page
      of={query}
      links={<MappingLinks here="items" />}
      title="Items"
      facts={<span>found by SKU, then by another name, then by its own name folded; two hits ask</span>}
      actions={
        <Button disabled={!data} onClick={() => setDraft(blank)}>
          Add an item
        </Button>
      }
    >
      <Table.Root aria-label="Items" style={{ tableLayout: 'fixed' }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ width: 140 }}>SKU</Table.ColumnHeader>
            <Table.ColumnHeader>Name</Table.ColumnHeader>
            <Table.ColumnHeader>Other names</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 230 }}>Account</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 84 }}>Tax</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 110 }} textAlign="end">
              Cost of one
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 120 }}>From</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 80 }} />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {data?.items.map(item => {
            const cost = item.costs.at(-1)
            return (
              <Table.Row key={item.code}>
                <Table.Cell textStyle="mono">{item.code}</Table.Cell>
                <Table.Cell>{item.name}</Table.Cell>
                <Table.Cell color="muted" title={item.otherNames.join(', ')}>
                  {item.otherNames.join(', ')}
                </Table.Cell>
                <Table.Cell>
                  <Span textStyle="mono">{item.account}</Span> {nameOf(item.account)}
                </Table.Cell>
                <Table.Cell textStyle="mono">{item.taxCode ?? '–'}</Table.Cell>
                <Table.Cell textAlign="end">{cost ? amountText(cost.cost, base, locale) : ''}</Table.Cell>
                <Table.Cell>{cost ? dateText(cost.from) : ''}</Table.Cell>
                <Table.Cell textAlign="end">
                  <Button variant="ghost" onClick={() => setDraft(item)}>
                    Change
                  </Button>
                </Table.Cell>
              </Table.Row>
            )
          })}
          {data?.items.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={8} color="muted">
                No items. They are needed only where a route is to bring its account by what was sold, or where the cost
                of goods is booked.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
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
  const { clientId, base, locale } = useClient()
  const { saveItems } = useMappingActs(clientId)
  const notice = useNotice()
  const [item, setItem] = useState(draft)
  const [others, setOthers] = useState(draft.otherNames.join('; '))
  const latest = draft.costs.at(-1)
  const [cost, setCost] = useState(latest ? printAmount(latest.cost, base, locale) : '')
  const [from, setFrom] = useState(latest?.from ?? '')
  const parsed = cost.trim() === '' ? null : typedAmount(cost, base, locale)
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
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="solid" disabled={!whole || saveItems.isPending} onClick={save}>
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
          <DateInput {...field} value={from} onChange={setFrom} />
        </Box>
      </Flex>
    </Modal>
  )
}
