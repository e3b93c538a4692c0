import { Button, Input, Span, Table } from '@chakra-ui/react'
import type { ClassBody, TaxGridPage } from '@culvert/contract'
import { classBook } from '@culvert/core'
import { useState } from 'react'
import { Amount } from '../ui/Amount.tsx'

interface ClassTableProps {
  readonly goods: TaxGridPage['goods']
  readonly classes: readonly ClassBody[]
  readonly currency: string
  readonly onClass: (of: { sku: string | null; category: string | null }, name: string) => void
}

/** Goods seen, by category and SKU, each with the class that decides its tax. */
export const ClassTable = ({ goods, classes, currency, onClass }: ClassTableProps) => {
  const [sku, setSku] = useState('')
  const book = classBook(classes)
  const names = [...new Set(classes.map(entry => entry.class))].sort()
  // What is named and was not seen is shown as well: it decides what comes.
  const unseen = classes.filter(
    entry => !goods.some(one => (entry.sku ? one.sku === entry.sku : one.category === entry.category)),
  )
  return (
    <section aria-label="Product classes" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, fontWeight: 600, margin: '0 0 6px' }}>
        Product classes{' '}
        <Span color="muted" textStyle="small">
          goods whose tax differs from the rest; the SKU’s goes before its category’s
        </Span>
      </h2>
      <Table.Root aria-label="Classes of goods" style={{ maxWidth: 760 }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Category</Table.ColumnHeader>
            <Table.ColumnHeader>SKU</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">{currency}</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 240 }}>Class</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {goods.map(one => (
            <Table.Row key={`${one.category} ${one.sku}`}>
              <Table.Cell>{one.category ?? ''}</Table.Cell>
              <Table.Cell textStyle="mono">{one.sku ?? ''}</Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={one.amount} currency={currency} />
              </Table.Cell>
              <Table.Cell>
                <ClassField
                  name={one.sku ?? one.category ?? ''}
                  value={book.classOf(one)}
                  onSave={name => onClass(one, name)}
                />
              </Table.Cell>
            </Table.Row>
          ))}
          {unseen.map(entry => (
            <Table.Row key={`${entry.category} ${entry.sku}`}>
              <Table.Cell>{entry.category ?? ''}</Table.Cell>
              <Table.Cell textStyle="mono">{entry.sku ?? ''}</Table.Cell>
              <Table.Cell textAlign="end" color="muted">
                not seen
              </Table.Cell>
              <Table.Cell>
                <ClassField
                  name={entry.sku ?? entry.category ?? ''}
                  value={entry.class}
                  onSave={name => onClass({ sku: entry.sku ?? null, category: entry.category ?? null }, name)}
                />
              </Table.Cell>
            </Table.Row>
          ))}
          <Table.Row>
            <Table.Cell color="muted">one product apart from its category</Table.Cell>
            <Table.Cell>
              <Input
                aria-label="SKU of its own class"
                placeholder="SKU"
                value={sku}
                onChange={event => setSku(event.target.value)}
              />
            </Table.Cell>
            <Table.Cell />
            <Table.Cell>
              <Button
                disabled={sku.trim() === ''}
                onClick={() => {
                  onClass({ sku: sku.trim(), category: null }, names[0] ?? 'reduced')
                  setSku('')
                }}
              >
                Add the SKU
              </Button>
            </Table.Cell>
          </Table.Row>
        </Table.Body>
      </Table.Root>
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
