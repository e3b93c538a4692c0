import { Span, Table } from '@chakra-ui/react'
import { choosableKinds, type Kind, kinds } from '@culvert/core'
import { Check } from '../ui/form/Check.tsx'
import { Select } from '../ui/Select.tsx'
import type { WordSeen } from './previewFile.ts'

interface KindTableProps {
  readonly words: readonly WordSeen[]
  readonly kinds: Readonly<Record<string, Kind | null>>
  readonly reversed: readonly string[]
  /** Words that are to be looked at. */
  readonly open: ReadonlySet<string>
  readonly onKind: (word: string, kind: Kind | null | undefined) => void
  readonly onReversed: (word: string, reversed: boolean) => void
}

const leftOut = 'left_out'

/** The file's words for what happened, with their money, and the kind that each stands for. */
export const KindTable = ({ words, kinds: said, reversed, open, onKind, onReversed }: KindTableProps) => (
  <Table.Root aria-label="Kinds of the file" bg="sheet">
    <Table.Header>
      <Table.Row>
        <Table.ColumnHeader>In the file</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="right">Rows</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="right">Amount</Table.ColumnHeader>
        <Table.ColumnHeader>Kind</Table.ColumnHeader>
        <Table.ColumnHeader>Sign</Table.ColumnHeader>
      </Table.Row>
    </Table.Header>
    <Table.Body>
      {words.map(({ word, rows, amount }) => {
        const kind = said[word]
        const asks = kind === undefined || open.has(word)
        return (
          <Table.Row key={word} bg={asks ? 'ochre.wash' : undefined}>
            <Table.Cell textStyle="mono">{word === '' ? <Span color="muted">empty</Span> : word}</Table.Cell>
            <Table.Cell textAlign="right">{rows.toLocaleString('en-IE')}</Table.Cell>
            <Table.Cell textAlign="right">{amount.toFixed(2)}</Table.Cell>
            <Table.Cell>
              <Select
                aria-label={`Kind of ${word}`}
                w="160px"
                borderColor={asks ? 'ochre' : undefined}
                value={kind === undefined ? '' : (kind ?? leftOut)}
                onChange={event => {
                  const { value } = event.target
                  onKind(word, value === '' ? undefined : value === leftOut ? null : (value as Kind))
                }}
              >
                <option value="">say it …</option>
                <option value={leftOut}>leave these rows out</option>
                {choosableKinds.map(one => (
                  <option key={one} value={one}>
                    {kinds[one].label}
                  </option>
                ))}
              </Select>
            </Table.Cell>
            <Table.Cell>
              <Check checked={reversed.includes(word)} onChange={checked => onReversed(word, checked)}>
                turn round
              </Check>
            </Table.Cell>
          </Table.Row>
        )
      })}
    </Table.Body>
  </Table.Root>
)
