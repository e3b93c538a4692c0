import { Button, Table } from '@chakra-ui/react'
import type { CloseMonth } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { monthText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { closeQuery } from './closeQueries.ts'
import { LockDialog } from './LockDialog.tsx'

/** The months: what still waits in each, and its lock. */
export const ClosePage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const query = useQuery(closeQuery(clientId))
  const { data } = query
  const [asked, setAsked] = useState<CloseMonth | null>(null)
  const cell = (count: number, to: string) =>
    count === 0 ? (
      '–'
    ) : (
      <PageLink color="ochre" to={to}>
        {count}
      </PageLink>
    )
  return (
    <Page
      of={query}
      title="Close"
      facts={<span>a locked month takes no entries; reversals go to the first open day after it</span>}
    >
      <Table.Root aria-label="Months">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Month</Table.ColumnHeader>
            <Table.ColumnHeader>State</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Blocked</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">To post</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Waiting, gross</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Corrections</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Payouts not in the bank</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 110 }} />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {data?.months.map(row => (
            <Table.Row key={row.month}>
              <Table.Cell fontWeight="600">{monthText(row.month)}</Table.Cell>
              <Table.Cell>
                {row.locked ? (
                  <StateMark state="closed" word="locked" />
                ) : row.ready ? (
                  <StateMark state="posted" word="ready to lock" />
                ) : (
                  <StateMark state="proposed" word="open" />
                )}
              </Table.Cell>
              <Table.Cell textAlign="end">
                {cell(row.blocked, href(`/settlements?state=blocked&period=${row.month}`))}
              </Table.Cell>
              <Table.Cell textAlign="end">
                {cell(row.proposed, href(`/settlements?state=proposed&period=${row.month}`))}
              </Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={row.waitingAmount} />
              </Table.Cell>
              <Table.Cell textAlign="end">
                {cell(row.corrections, href(`/settlements?state=corrected&period=${row.month}`))}
              </Table.Cell>
              <Table.Cell textAlign="end">{cell(row.unpaired, href(`/bank?period=${row.month}`))}</Table.Cell>
              <Table.Cell>
                <Button
                  h="26px"
                  aria-label={`${row.locked ? 'Open' : 'Lock'} ${monthText(row.month)}`}
                  onClick={() => setAsked(row)}
                >
                  {row.locked ? 'Open again' : 'Lock'}
                </Button>
              </Table.Cell>
            </Table.Row>
          ))}
          {data?.months.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={8} color="muted">
                Months stand here once something happened in them.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
      {asked ? <LockDialog row={asked} onClose={() => setAsked(null)} /> : null}
    </Page>
  )
}
