import { Box, Table } from '@chakra-ui/react'
import { type Session, stageNames } from '@culvert/contract'
import { amountText, countText } from '../ui/formats.ts'
import { sumsOf } from './urgency.ts'

const counted = new Set(['mapping', 'settlements', 'payments', 'clearing', 'bank'])

/** What waits in all clients, added up for each base currency: sums of two are no sum. */
export const TotalRows = ({ clients }: { readonly clients: Session['clients'] }) =>
  [...new Set(clients.map(client => client.base))].sort().map(base => {
    const mine = clients.filter(client => client.base === base)
    const locale = mine[0]?.locale ?? 'en-IE'
    return (
      <Table.Row key={base} data-tone="total" data-rule="">
        <Table.Cell>
          All in {base}
          <Box as="span" color="muted" fontWeight="400" textStyle="small" ml="8px">
            {countText(mine.length, 'client')}
          </Box>
        </Table.Cell>
        {stageNames.map(stage => {
          const { waiting, amount } = sumsOf(mine, stage)
          return (
            <Table.Cell key={stage} px="0" textStyle="small" lineHeight="1.25" fontWeight="400">
              {counted.has(stage) && waiting > 0 ? (
                <>
                  {waiting} waiting
                  <Box fontWeight="600">{amountText(amount, base, locale)}</Box>
                </>
              ) : (
                '–'
              )}
            </Table.Cell>
          )
        })}
        <Table.Cell />
        <Table.Cell />
      </Table.Row>
    )
  })
