import { Box } from '@chakra-ui/react'
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
      borderColor="var(--hairline)"
    >
      <table className="sheet">
        <thead>
          <tr>
            <th>It could also be: payouts</th>
            <th>bank lines</th>
            <th className="right" style={{ width: 110 }}>
              {page.account.currency}
            </th>
            <th style={{ width: 90 }} />
          </tr>
        </thead>
        <tbody>
          {proposal.others.map(other => {
            const paid = other.transfers.flatMap(id => transfers.get(id) ?? [])
            const deposited = other.bankLines.flatMap(id => lines.get(id) ?? [])
            return (
              <tr key={JSON.stringify(other)}>
                <td>{paid.map(one => `${one.sourceName} ${one.key}, ${dayText(one.date)}`).join(' + ')}</td>
                <td>{deposited.map(one => `${one.description || one.id}, ${dayText(one.date)}`).join(' + ')}</td>
                <td className="right">{money(deposited.reduce((sum, one) => sum + one.amount, 0))}</td>
                <td className="right">
                  <button
                    type="button"
                    className="linklike"
                    onClick={() => onPick([...other.transfers.map(keyOfTransfer), ...other.bankLines.map(keyOfLine)])}
                  >
                    Pick these
                  </button>
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </Box>
  )
}
