import { Box, Flex, Span } from '@chakra-ui/react'
import type { CutOver } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { StateMark } from '../ui/StateMark.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
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
  const columns: readonly SheetColumn<Held>[] = [
    {
      id: 'account',
      head: 'Account',
      width: '220px',
      cell: row => (
        <>
          <Span textStyle="mono">{row.account}</Span> {row.name}
        </>
      ),
      value: row => row.account,
    },
    {
      id: 'opening',
      head: 'Opening balance',
      right: true,
      width: '130px',
      cell: row => <Amount minor={row.opening} currency={row.currency} />,
      value: row => row.opening,
    },
    {
      id: 'causes',
      head: 'Explained by',
      cell: row =>
        row.causes.length === 0 ? null : (
          <Span color="muted">
            {row.causes.map(({ cause, amount }, at) => (
              <span key={cause}>
                {at > 0 ? ', ' : ''}
                {causeText(cause)} <Amount minor={amount} currency={row.currency} />
              </span>
            ))}
          </Span>
        ),
    },
    {
      id: 'held',
      head: 'It held',
      right: true,
      width: '120px',
      cell: row =>
        row.reported === null ? (
          <Span color="ochre">not known</Span>
        ) : (
          <Amount minor={row.reported} currency={row.currency} />
        ),
      value: row => row.reported ?? 0,
    },
    {
      id: 'difference',
      head: 'Difference',
      right: true,
      width: '110px',
      cell: row =>
        row.difference === null ? null : (
          <Span color={row.difference === 0 ? 'inherit' : 'crimson'}>
            <Amount minor={row.difference} currency={row.currency} />
          </Span>
        ),
      value: row => row.difference ?? 0,
    },
    {
      id: 'proof',
      head: 'Proof of that day',
      width: '140px',
      cell: row => (
        <Link to={href(`/clearing/${row.account}?date=${lastDay}&currency=${row.currency}`)}>
          {row.outcome === null ? (
            'not proved'
          ) : (
            <StateMark
              state={row.outcome === 'open' ? 'unexplained' : row.outcome}
              word={row.outcome === 'open' ? 'open' : row.outcome}
            />
          )}
        </Link>
      ),
      value: row => row.outcome ?? '',
    },
  ]
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
      <SheetTable
        label="Opening balances"
        columns={columns}
        rows={accounts}
        rowKey={row => `${row.account} ${row.currency}`}
        empty="It has no clearing account yet."
      />
      <CutOverHelp accounts={accounts} lastDay={lastDay} />
    </Box>
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
          by then and had not arrived belongs on an account for money in transit: its deposit is coded to that account,
          in Bank.
        </>
      ) : null}
    </Box>
  )
}
