import { Box, Button } from '@chakra-ui/react'
import type { BankPage, PairingRow } from '@culvert/contract'
import { Amount } from '../ui/Amount.tsx'
import { dayText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { keyOfLine, keyOfTransfer } from './arrangeTide.ts'

interface OtherGroupingsProps {
  readonly page: BankPage
  readonly proposal: PairingRow
  readonly onPick: (keys: readonly string[]) => void
}

type Grouping = PairingRow['others'][number]

/** The other groupings that share a member with a proposal and fit as well; one can be picked instead. */
export const OtherGroupings = ({ page, proposal, onPick }: OtherGroupingsProps) => {
  const transfers = new Map(page.transfers.map(one => [one.id, one]))
  const lines = new Map(page.lines.map(one => [one.id, one]))
  const { currency } = page.account
  const paid = (other: Grouping) => other.transfers.flatMap(id => transfers.get(id) ?? [])
  const deposited = (other: Grouping) => other.bankLines.flatMap(id => lines.get(id) ?? [])
  const sum = (other: Grouping) => deposited(other).reduce((total, one) => total + one.amount, 0)
  const paidText = (other: Grouping) =>
    paid(other)
      .map(one => `${one.sourceName} ${one.key}, ${dayText(one.date)}`)
      .join(' + ')
  const depositedText = (other: Grouping) =>
    deposited(other)
      .map(one => `${one.description || one.id}, ${dayText(one.date)}`)
      .join(' + ')
  const pick = (other: Grouping) => onPick([...other.transfers.map(keyOfTransfer), ...other.bankLines.map(keyOfLine)])
  const columns: readonly SheetColumn<Grouping>[] = [
    { id: 'payouts', head: 'It could also be: payouts', value: paidText, cell: paidText },
    { id: 'lines', head: 'bank lines', value: depositedText, cell: depositedText },
    {
      id: 'amount',
      head: currency,
      width: '110px',
      right: true,
      money: other => ({ minor: sum(other), currency }),
      cell: other => <Amount minor={sum(other)} currency={currency} onOpen={() => pick(other)} />,
    },
    {
      id: 'act',
      head: '',
      width: '90px',
      right: true,
      cell: other => (
        <Button variant="ghost" onClick={() => pick(other)}>
          Pick these
        </Button>
      ),
    },
  ]
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
      <SheetTable
        scope="other-"
        label="Other groupings"
        whole
        filterable={false}
        columns={columns}
        rows={proposal.others}
        rowKey={other => JSON.stringify(other)}
      />
    </Box>
  )
}
