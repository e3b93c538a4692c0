import { Box, Button, chakra, Flex, Span, Table } from '@chakra-ui/react'
import type { ItemRow, RouteBody, SeenProduct } from '@culvert/contract'
import { sumMinor } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { Amount } from '../ui/Amount.tsx'
import { amountText, countText, dateText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { itemsForgetting, itemsLearning, nameToLearn } from './learnProduct.ts'
import { productsQuery, useMappingActs } from './mappingQueries.ts'

const evidence = { code: 'by its SKU', other_name: 'by a known name', name: 'by its title' } as const

/** Routes of all the products shown, each product's once. */
const routesOf = (products: readonly SeenProduct[]): RouteBody[] => [
  ...new Map(
    products
      .flatMap(({ proposal }) => proposal ?? [])
      .map(route => [JSON.stringify([route.source, route.sku, route.region]), route]),
  ).values(),
]

/** What was sold, and the item that each product finds: two hits ask, what is said is learned, and can be forgotten again. */
export const ProductsTable = ({ items, version }: { readonly items: readonly ItemRow[]; readonly version: number }) => {
  const { clientId, base, locale } = useClient()
  const { data, error } = useQuery(productsQuery(clientId))
  const { save } = useMapActs(clientId)
  const { saveItems } = useMappingActs(clientId)
  const notice = useNotice()
  const [asked, setAsked] = useState(false)
  if (error) return <Box color="fg.error">{error.message}</Box>
  if (!data) return <Box color="muted">Looking through what was sold …</Box>
  const busy = save.isPending || saveItems.isPending
  const learn = (changed: readonly ItemRow[], text: string): void => {
    if (changed.length > 0)
      saveItems.mutate({ items: [...changed], version }, { onSuccess: () => notice.say(text), onError: notice.refuse })
  }
  const take = (products: readonly SeenProduct[]): void => {
    const changed = routesOf(products)
    save.mutate(
      { changed, version },
      {
        onSuccess: () => {
          setAsked(false)
          notice.say(`Saved ${countText(changed.length, 'route')}. ${taxOf(products)}`)
        },
        onError: notice.refuse,
      },
    )
  }
  // An item's own code is what its goods bear from then on; all others bear what they bore.
  const taxOf = (products: readonly SeenProduct[]): string =>
    products.some(product => items.find(item => item.code === product.items[0])?.taxCode)
      ? 'Where an item names a tax code, it is that one from now on.'
      : 'Their tax stays as it was.'
  const takeOff = ({ sku, ownRoutes }: SeenProduct): void =>
    save.mutate(
      { changed: [], removed: ownRoutes, version },
      {
        onSuccess: () => notice.say(`${sku} has no route of its own any more; wider ones serve it.`),
        onError: notice.refuse,
      },
    )
  const ready = data.products.filter(product => product.proposal !== null)
  return (
    <Box as="section" mt="18px">
      <Flex align="baseline" gap="12px" mb="6px">
        <chakra.h2 fontWeight="600">Products sold</chakra.h2>
        <Span color="muted" textStyle="small">
          {data.from && data.to ? `${dateText(data.from)} to ${dateText(data.to)}, heaviest first` : 'nothing yet'}
        </Span>
        <Box flex="1" />
        {ready.length > 1 ? (
          <Button disabled={busy} onClick={() => setAsked(true)}>
            Route {ready.length} to their items
          </Button>
        ) : null}
      </Flex>
      <Table.Root aria-label="Products sold" style={{ tableLayout: 'fixed' }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ width: 110 }}>Source</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 140 }}>SKU</Table.ColumnHeader>
            <Table.ColumnHeader>Title</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 70 }} textAlign="end">
              Lines
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 110 }} textAlign="end">
              {base}
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 240 }}>Item</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 110 }}>Goes to</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 140 }} />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {data.products.map(product => (
            <Table.Row key={JSON.stringify([product.source, product.sku, product.title])}>
              <Table.Cell>{product.sourceName}</Table.Cell>
              <Table.Cell textStyle="mono">{product.sku || '–'}</Table.Cell>
              <Table.Cell>{product.title}</Table.Cell>
              <Table.Cell textAlign="end">{product.lines}</Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={product.amount} currency={base} />
              </Table.Cell>
              <Table.Cell>
                {product.found === 'one' ? (
                  <>
                    <Span textStyle="mono">{product.items[0]}</Span>{' '}
                    <Span color="muted">{product.by ? evidence[product.by] : ''}</Span>
                    {product.by === 'other_name' ? (
                      <Button
                        variant="ghost"
                        style={{ marginLeft: 8 }}
                        disabled={busy}
                        onClick={() => learn(itemsForgetting(product, items), `${nameToLearn(product)} is forgotten.`)}
                      >
                        Forget
                      </Button>
                    ) : null}
                  </>
                ) : (
                  <Select
                    aria-label={`Item of ${nameToLearn(product)}`}
                    value=""
                    disabled={busy || items.length === 0}
                    onChange={({ target }) =>
                      learn(
                        itemsLearning(product, target.value, items),
                        `${nameToLearn(product)} is ${target.value} from now on.`,
                      )
                    }
                  >
                    <option value="">
                      {product.found === 'several' ? `◆ ${product.items.join(' or ')}?` : 'no item found'}
                    </option>
                    {items.map(item => (
                      <option key={item.code} value={item.code}>
                        {item.code} {item.name}
                      </option>
                    ))}
                  </Select>
                )}
              </Table.Cell>
              <Table.Cell textStyle="mono">
                {product.goesTo ? (product.goesTo.item ?? product.goesTo.account ?? 'elsewhere') : '◆ not mapped'}
              </Table.Cell>
              <Table.Cell textAlign="end">
                {product.proposal ? (
                  <Button variant="ghost" disabled={busy} onClick={() => take([product])}>
                    Route to the item
                  </Button>
                ) : product.ownRoutes.length > 0 ? (
                  <Button variant="ghost" disabled={busy} onClick={() => takeOff(product)}>
                    Take its route off
                  </Button>
                ) : null}
              </Table.Cell>
            </Table.Row>
          ))}
          {data.products.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={8} color="muted">
                What is sold stands here once a source has reported sales that name a SKU or a title.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
      {asked ? (
        <Modal
          open
          onClose={() => setAsked(false)}
          title={`Route ${countText(ready.length, 'product')} to their items`}
          foot={
            <>
              <Button onClick={() => setAsked(false)}>Cancel</Button>
              <Button variant="solid" disabled={busy} onClick={() => take(ready)}>
                Save {countText(routesOf(ready).length, 'route')}
              </Button>
            </>
          }
        >
          Sales of{' '}
          {amountText(
            sumMinor(ready, product => product.amount),
            base,
            locale,
          )}{' '}
          {base} in the weeks shown go to the accounts of their items. {taxOf(ready)} What is posted stays as it is.
        </Modal>
      ) : null}
    </Box>
  )
}
