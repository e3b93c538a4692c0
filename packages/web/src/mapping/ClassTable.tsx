import type { ClassBody, TaxGridPage } from '@culvert/contract'
import { classBook } from '@culvert/core'
import { useState } from 'react'
import { Amount } from '../ui/Amount.tsx'
import { Button } from '../ui/Button.tsx'
import { Input } from '../ui/Input.tsx'

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
        <span className="muted small">goods whose tax differs from the rest; the SKU’s goes before its category’s</span>
      </h2>
      <table className="sheet" aria-label="Classes of goods" style={{ maxWidth: 760 }}>
        <thead>
          <tr>
            <th>Category</th>
            <th>SKU</th>
            <th className="right">{currency}</th>
            <th style={{ width: 240 }}>Class</th>
          </tr>
        </thead>
        <tbody>
          {goods.map(one => (
            <tr key={`${one.category} ${one.sku}`}>
              <td>{one.category ?? ''}</td>
              <td className="mono">{one.sku ?? ''}</td>
              <td className="right">
                <Amount minor={one.amount} currency={currency} />
              </td>
              <td>
                <ClassField
                  name={one.sku ?? one.category ?? ''}
                  value={book.classOf(one)}
                  onSave={name => onClass(one, name)}
                />
              </td>
            </tr>
          ))}
          {unseen.map(entry => (
            <tr key={`${entry.category} ${entry.sku}`}>
              <td>{entry.category ?? ''}</td>
              <td className="mono">{entry.sku ?? ''}</td>
              <td className="right muted">not seen</td>
              <td>
                <ClassField
                  name={entry.sku ?? entry.category ?? ''}
                  value={entry.class}
                  onSave={name => onClass({ sku: entry.sku ?? null, category: entry.category ?? null }, name)}
                />
              </td>
            </tr>
          ))}
          <tr>
            <td className="muted">one product apart from its category</td>
            <td>
              <Input
                aria-label="SKU of its own class"
                placeholder="SKU"
                value={sku}
                onChange={event => setSku(event.target.value)}
              />
            </td>
            <td />
            <td>
              <Button
                disabled={sku.trim() === ''}
                onClick={() => {
                  onClass({ sku: sku.trim(), category: null }, names[0] ?? 'reduced')
                  setSku('')
                }}
              >
                Add the SKU
              </Button>
            </td>
          </tr>
        </tbody>
      </table>
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
