import { Box, Button, Table } from '@chakra-ui/react'
import type { BankPage, PairingRow } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { amountText, dayText } from '../ui/formats.ts'
import { keyOfLine, keyOfTransfer } from './arrangeTide.ts'

interface OtherGroupingsProps {
  readonly page: BankPage
  readonly proposal: PairingRow
  readonly onPick: (keys: readonly string[]) => void
}

/** The other groupings that share a member with a proposal and fit as well; one can be picked instead. */
export const OtherGroupings = ({ page, proposal, onPick }: OtherGroupingsProps) => {
  const { locale } = useClient()
  const transfers = new Map(page.transfers.map(one => [one.id, one]))
  const lines = new Map(page.lines.map(one => [one.id, one]))
  const money = (minor: number) => amountText(minor, page.account.currency, locale)
  return (
    <Box
      as="section"
      aria-label="Other groupings that fit"
      maxH="180px"
      overflowY="auto"
      mb="8px"
      borderBottomWidth="1px"
      borderColor="hairline"
    >
      <Table.Root>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>It could also be: payouts</Table.ColumnHeader>
            <Table.ColumnHeader>bank lines</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 110 }}>
              {page.account.currency}
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 90 }} />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {proposal.others.map(other => {
            const paid = other.transfers.flatMap(id => transfers.get(id) ?? [])
            const deposited = other.bankLines.flatMap(id => lines.get(id) ?? [])
            return (
              <Table.Row key={JSON.stringify(other)}>
                <Table.Cell>
                  {paid.map(one => `${one.sourceName} ${one.key}, ${dayText(one.date)}`).join(' + ')}
                </Table.Cell>
                <Table.Cell>
                  {deposited.map(one => `${one.description || one.id}, ${dayText(one.date)}`).join(' + ')}
                </Table.Cell>
                <Table.Cell textAlign="end">{money(deposited.reduce((sum, one) => sum + one.amount, 0))}</Table.Cell>
                <Table.Cell textAlign="end">
                  <Button
                    variant="ghost"
                    onClick={() => onPick([...other.transfers.map(keyOfTransfer), ...other.bankLines.map(keyOfLine)])}
                  >
                    Pick these
                  </Button>
                </Table.Cell>
              </Table.Row>
            )
          })}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
