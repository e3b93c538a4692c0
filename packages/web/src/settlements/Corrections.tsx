import { Box, Flex, Span } from '@chakra-ui/react'
import type { SettlementPage } from '@culvert/contract'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { AskConsent } from '../ui/AskConsent.tsx'
import { countText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { kindText } from '../ui/words.ts'

type Corrected = SettlementPage['correctionLines'][number]

interface CorrectionsProps {
  readonly page: SettlementPage
  readonly busy: boolean
  readonly onBook: () => void
}

/** What came back changed since a settlement was posted, line by line, and the entry that books it. */
export const Corrections = ({ page, busy, onBook }: CorrectionsProps) => {
  if (page.corrections === 0 || page.state !== 'posted') return null
  return (
    <Box
      as="section"
      aria-label="Corrected since it was posted"
      mb="12px"
      bg="ochre.wash"
      borderWidth="1px"
      borderColor="ochre"
      px="12px"
      py="8px"
    >
      <Flex gap="12px" align="center" wrap="wrap" mb="6px">
        <Span color="ochre" fontWeight="600">
          ◆ {countText(page.corrections, 'line')} came back changed since it was posted
        </Span>
        <Span textStyle="small">
          together <Amount minor={page.correctionAmount} currency={page.currency} />; booking it adds an entry of its
          own, dated the day it was pulled.
        </Span>
        <Act right="post" disabled={busy} onClick={onBook}>
          Book the correction
        </Act>
        <AskConsent
          right="post"
          what={`book the correction of ${page.name}`}
          wanted={() => ({
            sort: 'correct',
            key: { source: page.source, key: page.key, currency: page.currency },
          })}
        />
      </Flex>
      <Box maxW="620px" maxH="270px" overflowY="auto">
        <SheetTable
          scope="corrected-"
          label="Lines that came back changed"
          whole
          columns={columnsOf(page)}
          rows={page.correctionLines}
          rowKey={line => line.lineId}
        />
      </Box>
    </Box>
  )
}

const columnsOf = ({ source, currency }: SettlementPage): readonly SheetColumn<Corrected>[] => {
  const amount = (id: 'before' | 'after', head: string): SheetColumn<Corrected> => ({
    id,
    head,
    right: true,
    width: '120px',
    money: line => ({ minor: line[id], currency }),
    cell: line => <Amount minor={line[id]} currency={currency} trace={{ at: 'line', source, lineId: line.lineId }} />,
  })
  return [
    { id: 'line', head: 'Line', mono: true, value: line => line.lineId, cell: line => line.lineId },
    { id: 'kind', head: 'Kind', value: line => kindText(line.kind), cell: line => kindText(line.kind) },
    amount('before', 'As posted'),
    amount('after', 'As it came back'),
  ]
}
