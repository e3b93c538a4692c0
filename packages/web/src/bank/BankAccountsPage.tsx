import { Box, Span } from '@chakra-ui/react'
import { bankEndpoints as at, type PullRow, type StatementList, subjectKey, type WordingList } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { bankAccountsQuery, pullsQuery } from '../context/sharedQueries.ts'
import { OwnFormats } from '../files/OwnFormats.tsx'
import { StatementButton } from '../files/StatementButton.tsx'
import { TakeImportBack } from '../files/TakeImportBack.tsx'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { dateText, momentText, zoneText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useWayBack } from '../ui/useWayBack.ts'
import { BankLinks } from './BankLinks.tsx'
import { useBankActs, wordingsQuery } from './bankQueries.ts'

type Account = StatementList['accounts'][number]
type Statement = PullRow
type SourceWordings = WordingList['sources'][number]

const accountColumns: readonly SheetColumn<Account>[] = [
  {
    id: 'code',
    head: 'Code',
    width: '90px',
    cell: row => <Span textStyle="mono">{row.code}</Span>,
    value: row => row.code,
  },
  { id: 'name', head: 'Account', cell: row => row.name, value: row => row.name },
  {
    id: 'number',
    head: 'Number',
    cell: row => <Span textStyle="mono">{row.bankNumber}</Span>,
    value: row => row.bankNumber,
  },
  {
    id: 'from',
    head: 'Statement from',
    width: '124px',
    cell: row => dateText(row.from),
    value: row => row.from,
  },
  { id: 'to', head: 'to', width: '110px', cell: row => dateText(row.to), value: row => row.to },
  { id: 'lines', head: 'Lines', right: true, width: '70px', cell: row => row.lines, value: row => row.lines },
  { id: 'open', head: 'Not paired', right: true, width: '90px', cell: row => row.open, value: row => row.open },
  {
    id: 'bank',
    head: 'Moved, bank',
    right: true,
    width: '130px',
    cell: row => <Amount minor={row.bank} currency={row.currency} trace={{ at: 'bank', account: row.code }} />,
    money: row => ({ minor: row.bank, currency: row.currency }),
  },
  {
    id: 'books',
    head: 'Balance, books',
    right: true,
    width: '130px',
    cell: row => <Amount minor={row.books} currency={row.currency} trace={{ at: 'account', account: row.code }} />,
    money: row => ({ minor: row.books, currency: row.currency }),
  },
]

const stateOf = (pull: Statement): string => (pull.state === 'failed' ? `▲ ${pull.message}` : pull.state)

const statementColumns = (timeZone: string): readonly SheetColumn<Statement>[] => [
  {
    id: 'at',
    head: `When, ${zoneText(timeZone)}`,
    width: '170px',
    cell: pull => momentText(pull.startedAt, timeZone),
    value: pull => pull.startedAt,
  },
  {
    id: 'what',
    head: 'Statement',
    cell: pull => (pull.sort === 'bank_pull' ? 'pulled from the bank' : pull.message),
    value: pull => (pull.sort === 'bank_pull' ? 'pulled from the bank' : pull.message),
  },
  { id: 'added', head: 'New lines', right: true, width: '90px', cell: pull => pull.added, value: pull => pull.added },
  { id: 'same', head: 'Known', right: true, width: '80px', cell: pull => pull.same, value: pull => pull.same },
  { id: 'by', head: 'By', width: '120px', cell: pull => pull.by, value: pull => pull.by },
  {
    id: 'state',
    head: 'State',
    width: '200px',
    cell: pull => <Span color={pull.state === 'failed' ? 'crimson' : 'inherit'}>{stateOf(pull)}</Span>,
    value: stateOf,
  },
  {
    id: 'back',
    head: 'Taken back',
    width: '150px',
    cell: pull => <TakeImportBack pull={pull} />,
    value: pull => pull.takenBackAt,
  },
]

/** Bank accounts with how far their statements reach, and what was brought in. */
export const BankAccountsPage = () => {
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const query = useQuery(bankAccountsQuery(clientId))
  const { data } = query
  const { data: log } = useQuery(pullsQuery(clientId, null))
  const statements = (log?.pulls ?? []).filter(pull => pull.sort === 'statement' || pull.sort === 'bank_pull')
  return (
    <Page
      of={query}
      links={<BankLinks here="accounts" />}
      title="Accounts and statements"
      actions={<StatementButton />}
    >
      <SheetTable
        label="Bank accounts"
        aboutOf={row => ({
          subject: 'account',
          key: subjectKey(row.code),
          title: `${row.code} ${row.name}`,
          link: `/bank/${row.code}`,
        })}
        columns={accountColumns}
        rows={data?.accounts ?? []}
        rowKey={account => account.code}
        to={account => href(`/bank/${account.code}`)}
        traceOf={account => ({ at: 'account', account: account.code })}
        empty="No account of the chart is a bank account yet."
      />
      <Wordings />
      <Box mt="18px">
        <SheetTable
          scope="statement-"
          label="Statements brought in"
          columns={statementColumns(timeZone)}
          rows={statements}
          rowKey={pull => pull.jobId}
          empty="No statement was brought in yet. Read are camt.053, camt.052 and camt.054, OFX, MT940, and CSV or XLSX of any shape."
        />
      </Box>
      <OwnFormats of={['bank']} />
    </Page>
  )
}

/** The words by which the bank names each source: what makes pairings certain, each as it was confirmed. */
const Wordings = () => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { data } = useQuery(wordingsQuery(clientId))
  const { wording } = useBankActs(clientId)
  const wayBack = useWayBack(clientId)
  const forget = (source: string, words: string) =>
    wording.mutate(
      { source, wording: words, known: false },
      {
        onError: notice.refuse,
        onSuccess: () =>
          notice.say(
            `“${words}” names nobody any more.`,
            wayBack('Know it again', async () => {
              await call(at.saveWording, { client: clientId, body: { source, wording: words, known: true } })
              return `“${words}” is known again.`
            }),
          ),
      },
    )
  const columns: readonly SheetColumn<SourceWordings>[] = [
    { id: 'source', head: 'Source', width: '200px', value: one => one.name, cell: one => one.name },
    {
      id: 'named',
      head: 'Named in bank lines by',
      words: true,
      value: one => [one.source, ...one.wordings].join(' '),
      cell: one => (
        <>
          <Span textStyle="mono">{one.source}</Span>
          {one.wordings.map(words => (
            <span key={words}>
              {' · '}
              <Span textStyle="mono">{words}</Span>{' '}
              <Act
                right="pair"
                variant="ghost"
                textStyle="small"
                aria-label={`Forget ${words}`}
                onClick={() => forget(one.source, words)}
              >
                forget
              </Act>
            </span>
          ))}
        </>
      ),
    },
  ]
  return (
    <Box mt="18px">
      <SheetTable
        scope="wording-"
        label="What names a source in bank lines"
        columns={columns}
        rows={data?.sources ?? []}
        rowKey={source => source.source}
      />
    </Box>
  )
}
