import { Box, Button, Flex, Span, Table } from '@chakra-ui/react'
import { bankEndpoints as at, type BankProofPage as Proof } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { StatementButton } from '../files/StatementButton.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, rangeText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { BankLinks } from './BankLinks.tsx'

type Cause = Proof['causes'][number]

const causeText: Record<Cause['cause'], string> = {
  opening: 'before the first statement',
  unbooked: 'on the statement, not booked',
  on_the_way: 'booked, not on the statement',
  overdue: 'booked more than 10 days ago, not on the statement',
  others: 'booked past statements and payouts',
  gap: 'gap between statements',
}
const stateText = {
  closed: '▣ closed',
  explained: '◆ explained, and something is to be mended',
  open: '▲ unexplained',
} as const

/** A bank account proved: from the balance in the books to what its last statement says, with the statements one after the other. */
export const BankProofPage = () => {
  const { account = '' } = useParams()
  const { clientId } = useClient()
  const { to } = usePeriod()
  const query = useQuery({
    queryKey: ['client', clientId, 'bank-proof', account, to],
    queryFn: () => call(at.bankProof, { client: clientId, params: { account }, query: { to } }),
  })
  const { data } = query
  const state = data?.proof?.state
  return (
    <Page
      of={query}
      links={<BankLinks here="proof" account={account} />}
      title={data ? `${data.account.code} ${data.account.name}` : account}
      facts={
        data?.proof && state ? (
          <>
            <span>
              at {dateText(data.proof.date)}, {data.account.currency}
            </span>
            <Span fontWeight="600" color={state === 'closed' ? undefined : state === 'open' ? 'crimson' : 'ochre'}>
              {stateText[state]}
              {data.gaps.length > 0 ? ', a statement is missing' : ''}
            </Span>
          </>
        ) : null
      }
      actions={<StatementButton of={{ subject: 'account', key: account }} />}
    >
      {data ? (
        data.proof ? (
          <Flex gap="18px" align="flex-start" wrap={{ base: 'wrap', lg: 'nowrap' }}>
            <Ladder page={data} proof={data.proof} />
            <Statements page={data} />
          </Flex>
        ) : (
          <NoStatement page={data} />
        )
      ) : null}
    </Page>
  )
}

const NoStatement = ({ page }: { readonly page: Proof }) => (
  <Box bg="sheet" borderWidth="1px" borderColor="hairline" p="16px" maxW="720px">
    No statement says its opening and closing balance yet
    {page.withoutBalances > 0 ? `: ${countText(page.withoutBalances, 'statement')} came without` : ''}. An account is
    proved by statements that do, such as camt.053 and MT940, or a table with the balance beside each movement.
  </Box>
)

const Row = ({
  children,
  amount,
  currency,
  bold = false,
  indent = false,
}: {
  readonly children: ReactNode
  readonly amount: number
  readonly currency: string
  readonly bold?: boolean
  readonly indent?: boolean
}) => (
  <Flex
    minH="30px"
    px="12px"
    pl={indent ? '34px' : '12px'}
    align="center"
    gap="10px"
    borderBottomWidth="1px"
    borderColor="hairline"
    fontWeight={bold ? '600' : undefined}
    color={indent ? 'muted' : undefined}
  >
    <Flex flex="1" minW="0" gap="10px" align="center">
      {children}
    </Flex>
    <Amount minor={amount} currency={currency} />
  </Flex>
)

const Ladder = ({ page, proof }: { readonly page: Proof; readonly proof: NonNullable<Proof['proof']> }) => {
  const { currency } = page.account
  const explained = page.causes.reduce((sum, cause) => sum + cause.amount, proof.books)
  return (
    <Box
      as="section"
      aria-label="From the books to the statement"
      flex="1 1 520px"
      minW="0"
      bg="sheet"
      borderWidth="1px"
      borderColor="hairline"
    >
      <Row amount={proof.books} currency={currency} bold>
        Balance in the books
      </Row>
      {page.causes.map(cause => (
        <CauseRows key={cause.cause} cause={cause} page={page} />
      ))}
      <Row amount={explained} currency={currency} bold>
        Explained
      </Row>
      <Row amount={proof.unexplained} currency={currency} bold={proof.unexplained !== 0}>
        <Span color={proof.unexplained === 0 ? 'muted' : 'crimson'}>
          {proof.unexplained === 0 ? 'unexplained' : '▲ unexplained'}
        </Span>
      </Row>
      <Row amount={proof.statement} currency={currency} bold>
        Statement says, {dateText(proof.date)}
      </Row>
    </Box>
  )
}

const shownAtFirst = 6

const CauseRows = ({ cause, page }: { readonly cause: Cause; readonly page: Proof }) => {
  const href = useHref()
  const [all, setAll] = useState(false)
  const { currency } = page.account
  const mends = cause.cause !== 'on_the_way'
  const shown = all ? cause.items : cause.items.slice(0, shownAtFirst)
  return (
    <>
      <Row amount={cause.amount} currency={currency}>
        <Span color={mends ? 'ochre' : undefined}>
          {mends ? '◆ ' : ''}
          {causeText[cause.cause]}
        </Span>
        {cause.items.length > 0 ? <Span color="muted">{cause.count}</Span> : null}
      </Row>
      {shown.map(item => (
        <Row
          key={`${item.date} ${item.title} ${item.detail} ${item.amount}`}
          amount={cause.cause === 'unbooked' ? item.amount : 0 - item.amount}
          currency={currency}
          indent
        >
          <Span w="88px" flexShrink={0}>
            {dateText(item.date)}
          </Span>
          <Span truncate>{item.link ? <Link to={href(item.link)}>{item.title || 'bank line'}</Link> : item.title}</Span>
          <Span truncate textStyle="small">
            {item.detail}
          </Span>
        </Row>
      ))}
      {!all && cause.count > shown.length ? (
        <Button variant="plain" ml="30px" h="28px" onClick={() => setAll(true)}>
          {cause.items.length > shown.length
            ? `and ${cause.count - shown.length} more`
            : `${cause.count - shown.length} more are not listed`}
        </Button>
      ) : null}
      {cause.cause === 'gap'
        ? page.gaps.map(gap => (
            <Row key={`${gap.from} ${gap.to}`} amount={gap.amount} currency={currency} indent>
              {rangeText(gap.from, gap.to)}
              <Span textStyle="small">moved by the balances, told by no statement</Span>
            </Row>
          ))
        : null}
    </>
  )
}

const formatNames: Record<string, string> = {
  camt: 'camt.053',
  mt940: 'MT940',
  ofx: 'OFX',
  columns: 'columns',
  csv: 'CSV',
}

const Statements = ({ page }: { readonly page: Proof }) => {
  const { currency } = page.account
  const missing = new Map(page.gaps.map(gap => [gap.to, gap]))
  return (
    <Box flex="1 1 560px" minW="0" bg="sheet" borderWidth="1px" borderColor="hairline" overflowX="auto">
      <Table.Root aria-label="Statements">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>No.</Table.ColumnHeader>
            <Table.ColumnHeader>Days</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="right">Lines</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="right">Opening</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="right">Closing</Table.ColumnHeader>
            <Table.ColumnHeader>Format</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {page.statements.flatMap((one, no) => {
            const gap = [...missing.values()].find(
              candidate => candidate.to < one.from && candidate.from > (page.statements[no - 1]?.to ?? ''),
            )
            return [
              ...(gap
                ? [
                    <Table.Row key={`gap ${gap.from}`} bg="ochre.wash">
                      <Table.Cell />
                      <Table.Cell>
                        <Span color="ochre">◆ {rangeText(gap.from, gap.to)} missing</Span>
                      </Table.Cell>
                      <Table.Cell />
                      <Table.Cell colSpan={2} textAlign="right">
                        moved by <Amount minor={gap.amount} currency={currency} />
                      </Table.Cell>
                      <Table.Cell />
                    </Table.Row>,
                  ]
                : []),
              <Table.Row key={`${one.from} ${one.to} ${one.opening} ${one.lines}`}>
                <Table.Cell textStyle="mono">{one.number}</Table.Cell>
                <Table.Cell>
                  {rangeText(one.from, one.to)}
                  {one.foots ? null : <Span color="crimson"> ▲ its lines or balances do not agree</Span>}
                </Table.Cell>
                <Table.Cell textAlign="right">{one.lines}</Table.Cell>
                <Table.Cell textAlign="right">
                  <Amount minor={one.opening} currency={currency} />
                </Table.Cell>
                <Table.Cell textAlign="right">
                  <Amount minor={one.closing} currency={currency} />
                </Table.Cell>
                <Table.Cell color="muted">{formatNames[one.format] ?? one.format}</Table.Cell>
              </Table.Row>,
            ]
          })}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
