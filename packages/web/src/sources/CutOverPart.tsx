import { Box, Flex, Span, Table } from '@chakra-ui/react'
import type { CutOver } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { StateMark } from '../ui/StateMark.tsx'
import { causeText } from '../ui/words.ts'
import { cutOverQuery } from './sourceQueries.ts'

type Held = NonNullable<CutOver['cutOver']>['accounts'][number]

/** Where a source's first day here is set: whether the opening balances are what its processor held at the end of the day before. */
export const CutOverPart = ({ source }: { readonly source: string }) => {
  const { clientId } = useClient()
  const href = useHref()
  const { data } = useQuery(cutOverQuery(clientId, source))
  const cutOver = data?.cutOver
  if (!cutOver) return null
  const { lastDay, settlements, accounts } = cutOver
  return (
    <Box as="section" aria-label="Booked elsewhere before" mb="14px">
      <Flex mb="6px" gap="10px" align="baseline">
        <Box as="h2" fontWeight="600">
          Booked elsewhere to {dateText(lastDay)}
        </Box>
        <Span color="muted">
          {settlements === 0 ? (
            'nothing of that time has come in'
          ) : (
            <Link to={href(`/settlements?state=elsewhere&source=${encodeURIComponent(source)}`)}>
              {countText(settlements, 'settlement')}
            </Link>
          )}
        </Span>
      </Flex>
      <Box bg="sheet" borderWidth="1px" borderColor="hairline" overflowX="auto">
        <Table.Root aria-label="Opening balances">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>Account</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="right">Opening balance</Table.ColumnHeader>
              <Table.ColumnHeader>Explained by</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="right">It held</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="right">Difference</Table.ColumnHeader>
              <Table.ColumnHeader>Proof of that day</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {accounts.map(row => (
              <HeldRow key={`${row.account} ${row.currency}`} row={row} lastDay={lastDay} />
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      <CutOverHelp accounts={accounts} lastDay={lastDay} />
    </Box>
  )
}

const HeldRow = ({ row, lastDay }: { readonly row: Held; readonly lastDay: string }) => {
  const href = useHref()
  const { account, name, currency, causes, difference, outcome } = row
  return (
    <Table.Row>
      <Table.Cell>
        <Span textStyle="mono">{account}</Span> {name} · {currency}
      </Table.Cell>
      <Table.Cell textAlign="right">
        <Amount minor={row.opening} currency={currency} />
      </Table.Cell>
      <Table.Cell color="muted">
        {causes.map(({ cause, amount }, at) => (
          <span key={cause}>
            {at > 0 ? ', ' : ''}
            {causeText(cause)} <Amount minor={amount} currency={currency} />
          </span>
        ))}
      </Table.Cell>
      <Table.Cell textAlign="right">
        {row.reported === null ? (
          <Span color="ochre">not known</Span>
        ) : (
          <Amount minor={row.reported} currency={currency} />
        )}
      </Table.Cell>
      <Table.Cell textAlign="right" color={difference ? 'crimson' : undefined}>
        {difference === null ? null : <Amount minor={difference} currency={currency} />}
      </Table.Cell>
      <Table.Cell>
        <Link to={href(`/clearing/${account}?date=${lastDay}&currency=${currency}`)}>
          {outcome === null ? (
            'not proved'
          ) : (
            <StateMark state={outcome === 'open' ? 'unexplained' : outcome} word={outcome} />
          )}
        </Link>
      </Table.Cell>
    </Table.Row>
  )
}

// What a new client would ask at this point: where to say what is missing, and what to do with money that was under way.
const CutOverHelp = ({ accounts, lastDay }: { readonly accounts: readonly Held[]; readonly lastDay: string }) => {
  const href = useHref()
  const unknown = accounts.find(row => row.reported === null)
  const off = accounts.some(row => row.difference !== null && row.difference !== 0)
  return (
    <Box color="muted" textStyle="small" mt="6px">
      {unknown ? (
        <>
          What it held on {dateText(lastDay)} comes with its balances (a file of them can be dropped here), or with a
          report of that day.{' '}
        </>
      ) : null}
      {off ? (
        <>
          The <Link to={href('/books/opening')}>opening balances</Link> are to hold what it held. A payout that was sent
          by then and had not arrived belongs on an account of its own: its deposit is coded to that account, in Bank.
        </>
      ) : null}
    </Box>
  )
}
