import { Span, Table } from '@chakra-ui/react'
import { type ItemList, type ItemRow, listEndpoints } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { ListButton } from '../files/ListButton.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useMappingActs } from './mappingQueries.ts'

const unknownText = {
  account: 'its account is not in the chart',
  tax_code: 'its tax code is not known',
  no_account: 'a new one needs an account',
} as const

/** An item as it is saved: what the list does not tell stays, and another cost holds from today on. */
export const itemOf = (row: ItemList['items'][number], was: ItemRow | undefined, today: string): ItemRow => {
  const costs = was?.costs ?? []
  const latest = costs.toSorted((left, right) => (left.from < right.from ? 1 : -1))[0]?.cost ?? null
  const next =
    row.cost === null || row.cost === latest
      ? costs
      : [...costs.filter(one => one.from !== today), { from: today, cost: row.cost }]
  return {
    ...{ code: row.code, name: row.name, otherNames: was?.otherNames ?? [] },
    account: row.account ?? was?.account ?? '',
    taxCode: row.taxCode ?? was?.taxCode ?? null,
    costs: [...next],
  }
}

/** Brings in a list of items with their costs: what is new and what changes is seen before it is taken. */
export const ItemListButton = ({
  items,
  version,
}: {
  readonly items: readonly ItemRow[]
  readonly version: number
}) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { saveItems: save } = useMappingActs(clientId)
  return (
    <ListButton<ItemList>
      label="Bring in a list"
      ledger="items"
      read={(file, query) => call(listEndpoints.readItems, { client: clientId, file, query })}
      shown={(list, close) => {
        const moved = list.items.filter(item => item.state !== 'same')
        const fit = moved.filter(item => item.unknown === null)
        const known = new Map(items.map(item => [item.code, item]))
        return {
          title:
            moved.length > 0
              ? `The list has ${countText(moved.length, 'item')} new or changed`
              : 'The list changes nothing',
          act: fit.length > 0 ? `Take ${countText(fit.length, 'item')}` : null,
          busy: save.isPending,
          onTake: () =>
            save.mutate(
              { items: fit.map(row => itemOf(row, known.get(row.code), list.today)), version },
              {
                onError: notice.refuse,
                onSuccess: () => {
                  notice.say(`${countText(fit.length, 'item')} taken. What is posted stays as it is.`)
                  close()
                },
              },
            ),
          note: (
            <Span color={fit.length < moved.length ? 'ochre' : 'muted'} textStyle="small">
              {fit.length < moved.length ? `◆ ${countText(moved.length - fit.length, 'item')} cannot be taken. ` : ''}
              {list.vanished.length > 0
                ? `${countText(list.vanished.length, 'item not in the list stays', 'items not in the list stay')}.`
                : ''}
            </Span>
          ),
          body: (
            <Table.Root aria-label="Items of the list">
              <Table.Header>
                <Table.Row>
                  <Table.ColumnHeader>SKU</Table.ColumnHeader>
                  <Table.ColumnHeader>Name</Table.ColumnHeader>
                  <Table.ColumnHeader>Account</Table.ColumnHeader>
                  <Table.ColumnHeader>Tax</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="right">Cost</Table.ColumnHeader>
                  <Table.ColumnHeader>State</Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {moved.slice(0, 300).map(item => (
                  <Table.Row key={item.row}>
                    <Table.Cell textStyle="mono">{item.code}</Table.Cell>
                    <Table.Cell>{item.name}</Table.Cell>
                    <Table.Cell textStyle="mono">{item.account ?? known.get(item.code)?.account}</Table.Cell>
                    <Table.Cell textStyle="mono">{item.taxCode ?? known.get(item.code)?.taxCode}</Table.Cell>
                    <Table.Cell textAlign="right">
                      <Amount minor={item.cost} />
                    </Table.Cell>
                    <Table.Cell color={item.unknown ? 'ochre' : 'muted'}>
                      {item.unknown ? `◆ ${unknownText[item.unknown]}` : item.state}
                    </Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          ),
        }
      }}
    />
  )
}
