import { Box, Table } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { openByAge } from '@culvert/core'
import { useState } from 'react'
import { startOfRef } from '../context/startOfLink.ts'
import { Amount } from '../ui/Amount.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { DocumentName } from './DocumentName.tsx'

const ages = ['0–7 days', '8–30', '31–60', 'over 60'] as const

type Document = ProofPage['causes'][number]['documents'][number]

const documentColumns = ({ currency }: ProofPage): readonly SheetColumn<Document>[] => [
  {
    id: 'what',
    head: 'What',
    value: document => document.date,
    cell: document => <DocumentName document={document} currency={currency} />,
  },
  {
    id: 'amount',
    head: currency,
    width: '110px',
    right: true,
    money: document => ({ minor: document.amount, currency }),
    cell: document => (
      <Amount minor={document.amount} currency={currency} trace={document.ref && startOfRef(document.ref, currency)} />
    ),
  },
]

/** What is open on an account, added up by age; each sum opens the documents that it is made of. */
export const Ageing = ({ page }: { readonly page: ProofPage }) => {
  const [opened, setOpened] = useState<number | null>(null)
  const open = openByAge(page.causes, page.date)
  const documents = opened === null ? [] : (open[opened] ?? [])
  return (
    <>
      <Table.Root aria-label="Open, by age" style={{ marginTop: 12 }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Open, by age</Table.ColumnHeader>
            {ages.map(age => (
              <Table.ColumnHeader key={age} textAlign="end">
                {age}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          <Table.Row>
            <Table.Cell>{page.currency}</Table.Cell>
            {page.ageing.map((amount, index) => (
              <Table.Cell key={ages[index]} textAlign="end">
                <Amount
                  minor={amount}
                  currency={page.currency}
                  {...((open[index] ?? []).length > 0 && {
                    onOpen: () => setOpened(opened === index ? null : index),
                  })}
                />
              </Table.Cell>
            ))}
          </Table.Row>
        </Table.Body>
      </Table.Root>
      {opened === null || documents.length === 0 ? null : (
        <Box mt="8px" maxH="300px" overflowY="auto">
          <SheetTable
            scope="aged-"
            label={`Open ${ages[opened]}`}
            whole
            columns={documentColumns(page)}
            rows={documents}
            rowKey={document => JSON.stringify(document)}
          />
        </Box>
      )}
    </>
  )
}
