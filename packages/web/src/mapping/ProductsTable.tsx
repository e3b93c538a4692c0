import { Box, Button, chakra, Flex, Span } from '@chakra-ui/react'
import type { ItemRow, RouteBody, SeenProduct } from '@culvert/contract'
import { sumMinor } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { Amount } from '../ui/Amount.tsx'
import { amountText, countText, dateText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
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

const productKey = (product: SeenProduct): string => JSON.stringify([product.source, product.sku, product.title])

const targetText = ({ goesTo }: SeenProduct): string =>
  goesTo ? (goesTo.item ?? goesTo.account ?? 'elsewhere') : '◆ not mapped'

const factColumns = (base: string): readonly SheetColumn<SeenProduct>[] => [
  { id: 'source', head: 'Source', width: '110px', cell: one => one.sourceName, value: one => one.sourceName },
  { id: 'sku', head: 'SKU', width: '140px', mono: true, cell: one => one.sku || '–', value: one => one.sku },
  { id: 'title', head: 'Title', cell: one => one.title, value: one => one.title },
  { id: 'lines', head: 'Lines', width: '70px', right: true, cell: one => one.lines, value: one => one.lines },
  {
    id: 'amount',
    head: base,
    width: '110px',
    right: true,
    money: one => ({ minor: one.amount, currency: base }),
    cell: one => (
      <Amount
        minor={one.amount}
        currency={base}
        trace={{
          at: 'product',
          source: one.source,
          ...(one.sku ? { sku: one.sku } : {}),
          ...(one.title ? { title: one.title } : {}),
        }}
      />
    ),
  },
]

interface FoundItemProps {
  readonly product: SeenProduct
  readonly items: readonly ItemRow[]
  readonly busy: boolean
  readonly onForget: () => void
  readonly onLearn: (code: string) => void
}

/** The item that a product finds and by what; where it finds none or several, which one it is can be said. */
const FoundItem = ({ product, items, busy, onForget, onLearn }: FoundItemProps) =>
  product.found === 'one' ? (
    <>
      <Span textStyle="mono">{product.items[0]}</Span>{' '}
      <Span color="muted">{product.by ? evidence[product.by] : ''}</Span>
      {product.by === 'other_name' ? (
        <Button variant="ghost" ml="8px" disabled={busy} onClick={onForget}>
          Forget
        </Button>
      ) : null}
    </>
  ) : (
    <Select
      aria-label={`Item of ${nameToLearn(product)}`}
      value=""
      disabled={busy || items.length === 0}
      onChange={({ target }) => onLearn(target.value)}
    >
      <option value="">{product.found === 'several' ? `◆ ${product.items.join(' or ')}?` : 'no item found'}</option>
      {items.map(item => (
        <option key={item.code} value={item.code}>
          {item.code} {item.name}
        </option>
      ))}
    </Select>
  )

/** What was sold, and the item that each product finds: two hits ask, what is said is learned, and can be forgotten again. */
export const ProductsTable = ({ items, version }: { readonly items: readonly ItemRow[]; readonly version: number }) => {
  const { clientId, base, locale } = useClient()
  const query = useQuery(productsQuery(clientId))
  const { data } = query
  const { save } = useMapActs(clientId)
  const { saveItems } = useMappingActs(clientId)
  const notice = useNotice()
  const [asked, setAsked] = useState(false)
  if (!data) return <Instead of={query} />
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
  const columns: readonly SheetColumn<SeenProduct>[] = [
    ...factColumns(base),
    {
      id: 'item',
      head: 'Item',
      width: '240px',
      value: product => product.items.join(' '),
      cell: product => (
        <FoundItem
          product={product}
          items={items}
          busy={busy}
          onForget={() => learn(itemsForgetting(product, items), `${nameToLearn(product)} is forgotten.`)}
          onLearn={code =>
            learn(itemsLearning(product, code, items), `${nameToLearn(product)} is ${code} from now on.`)
          }
        />
      ),
    },
    { id: 'to', head: 'Goes to', width: '110px', mono: true, cell: targetText, value: targetText },
    {
      id: 'act',
      head: '',
      width: '140px',
      right: true,
      cell: product =>
        product.proposal ? (
          <Button variant="ghost" disabled={busy} onClick={() => take([product])}>
            Route to the item
          </Button>
        ) : product.ownRoutes.length > 0 ? (
          <Button variant="ghost" disabled={busy} onClick={() => takeOff(product)}>
            Take its route off
          </Button>
        ) : null,
    },
  ]
  return (
    <Box as="section" mt="18px">
      <SheetTable
        scope="product-"
        label="Products sold"
        fixed
        head={
          <Flex align="baseline" gap="12px">
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
        }
        columns={columns}
        rows={data.products}
        rowKey={productKey}
        empty="What is sold stands here once a source has reported sales that name a SKU or a title."
      />
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
