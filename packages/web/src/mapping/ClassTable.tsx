import { Box, Button, Flex, Input, Span } from '@chakra-ui/react'
import type { ClassBody, TaxGridPage } from '@culvert/contract'
import { classBook } from '@culvert/core'
import { useState } from 'react'
import { Amount } from '../ui/Amount.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import type { GridLinesOf } from './GridLines.tsx'

interface ClassTableProps {
  readonly goods: TaxGridPage['goods']
  readonly classes: readonly ClassBody[]
  readonly currency: string
  readonly onLines: (of: GridLinesOf) => void
  readonly onClass: (of: { sku: string | null; category: string | null }, name: string) => void
}

/** Goods with the class that they are of; without an amount where none were seen. */
interface ClassedGoods {
  readonly category: string | null
  readonly sku: string | null
  readonly amount: number | null
  readonly class: string
  /** The class that it was seen under: as saved. */
  readonly seenAs: string
}

const linesOf = ({ category, sku, seenAs }: ClassedGoods): GridLinesOf => ({
  title: [category, sku].filter(Boolean).join(' · '),
  asked: { of: 'goods', goods: { category, sku, class: seenAs } },
})

const rowKey = (one: ClassedGoods): string => `${one.category} ${one.sku}`

/** Goods seen, by category and SKU, each with the class that decides its tax. */
export const ClassTable = ({ goods, classes, currency, onLines, onClass }: ClassTableProps) => {
  const [sku, setSku] = useState('')
  const book = classBook(classes)
  const names = [...new Set(classes.map(entry => entry.class))].sort()
  // What is named and was not seen is shown as well: it decides what comes.
  const unseen = classes.filter(
    entry => !goods.some(one => (entry.sku ? one.sku === entry.sku : one.category === entry.category)),
  )
  const rows: readonly ClassedGoods[] = [
    ...goods.map(one => ({ ...one, class: book.classOf(one), seenAs: one.class })),
    ...unseen.map(entry => ({
      category: entry.category ?? null,
      sku: entry.sku ?? null,
      amount: null,
      class: entry.class,
      seenAs: entry.class,
    })),
  ]
  const columns: readonly SheetColumn<ClassedGoods>[] = [
    { id: 'category', head: 'Category', value: one => one.category, cell: one => one.category },
    { id: 'sku', head: 'SKU', mono: true, value: one => one.sku, cell: one => one.sku },
    {
      id: 'amount',
      head: currency,
      right: true,
      money: one => ({ minor: one.amount, currency }),
      cell: one =>
        one.amount === null ? (
          <Span color="muted">not seen</Span>
        ) : (
          <Amount minor={one.amount} currency={currency} onOpen={() => onLines(linesOf(one))} />
        ),
    },
    {
      id: 'class',
      head: 'Class',
      width: '240px',
      value: one => one.class,
      cell: one => (
        <ClassField
          name={one.sku ?? one.category ?? ''}
          value={one.class}
          onSave={name => onClass({ sku: one.sku, category: one.category }, name)}
        />
      ),
    },
  ]
  return (
    <section aria-label="Product classes" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, fontWeight: 600, margin: '0 0 6px' }}>
        Product classes{' '}
        <Span color="muted" textStyle="small">
          goods whose tax differs from the rest; the SKU’s goes before its category’s
        </Span>
      </h2>
      <Box maxW="760px">
        <SheetTable scope="class-" label="Classes of goods" columns={columns} rows={rows} rowKey={rowKey} />
      </Box>
      <Flex gap="10px" mt="8px" align="center">
        <Span color="muted">One product apart from its category:</Span>
        <Input
          w="160px"
          aria-label="SKU of its own class"
          placeholder="SKU"
          value={sku}
          onChange={event => setSku(event.target.value)}
        />
        <Button
          disabled={sku.trim() === ''}
          title={sku.trim() === '' ? 'Type its SKU first.' : undefined}
          onClick={() => {
            onClass({ sku: sku.trim(), category: null }, names[0] ?? 'reduced')
            setSku('')
          }}
        >
          Add the SKU
        </Button>
      </Flex>
      <datalist id="class-names">
        {names.map(name => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </section>
  )
}

/** Taken when it is left: a class is not made of each letter that is typed. */
const ClassField = ({
  name,
  value,
  onSave,
}: {
  readonly name: string
  readonly value: string
  readonly onSave: (name: string) => void
}) => {
  const [text, setText] = useState<string | null>(null)
  const done = (): void => {
    if (text !== null && text.trim() !== value) onSave(text)
    setText(null)
  }
  return (
    <Input
      h="26px"
      list="class-names"
      aria-label={`Class of ${name}`}
      placeholder="no class of its own"
      value={text ?? value}
      onChange={event => setText(event.target.value)}
      onBlur={done}
      onKeyDown={event => {
        if (event.key === 'Enter') done()
      }}
    />
  )
}
