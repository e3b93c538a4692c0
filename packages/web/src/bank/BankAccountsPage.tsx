import { Button, Span, Table } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { pullsQuery } from '../context/sharedQueries.ts'
import { Amount } from '../ui/Amount.tsx'
import { FileButton } from '../ui/FileButton.tsx'
import { dateText, momentText, zoneText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { bankAccountsQuery, useBankActs, wordingsQuery } from './bankQueries.ts'
import { statementText } from './statementText.ts'
import { BankLinks } from './TidePage.tsx'

/** Bank accounts with how far their statements reach, and what was brought in. */
export const BankAccountsPage = () => {
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const notice = useNotice()
  const query = useQuery(bankAccountsQuery(clientId))
  const { data } = query
  const { data: log } = useQuery(pullsQuery(clientId, null))
  const { upload } = useBankActs(clientId)
  const statements = (log?.pulls ?? []).filter(pull => pull.sort === 'statement' || pull.sort === 'bank_pull')
  const take = async (files: readonly File[]) => {
    try {
      for (const file of files) {
        const outcome = await upload.mutateAsync(file)
        if (outcome) notice.say(statementText(file.name, outcome))
      }
    } catch (error) {
      notice.refuse(error)
    }
  }
  return (
    <Page
      of={query}
      links={<BankLinks here="accounts" />}
      title="Accounts and statements"
      actions={
        <FileButton
          label="Bring in a statement"
          accept=".xml,.csv"
          busy={upload.isPending}
          onFiles={files => void take(files)}
        />
      }
    >
      <Table.Root aria-label="Bank accounts">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Code</Table.ColumnHeader>
            <Table.ColumnHeader>Account</Table.ColumnHeader>
            <Table.ColumnHeader>Number</Table.ColumnHeader>
            <Table.ColumnHeader>Statement from</Table.ColumnHeader>
            <Table.ColumnHeader>to</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Lines</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Not paired</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Moved, bank</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Balance, books</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {data?.accounts.map(account => (
            <Table.Row key={account.code}>
              <Table.Cell textStyle="mono">{account.code}</Table.Cell>
              <Table.Cell>
                <Link to={href(`/bank/${account.code}`)}>{account.name}</Link>
              </Table.Cell>
              <Table.Cell textStyle="mono">{account.bankNumber}</Table.Cell>
              <Table.Cell>{dateText(account.from)}</Table.Cell>
              <Table.Cell>{dateText(account.to)}</Table.Cell>
              <Table.Cell textAlign="end">{account.lines}</Table.Cell>
              <Table.Cell textAlign="end">{account.open}</Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={account.bank} currency={account.currency} />
              </Table.Cell>
              <Table.Cell textAlign="end">
                <Amount
                  minor={account.books}
                  currency={account.currency}
                  trace={{ at: 'account', account: account.code }}
                />
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Wordings />
      <Table.Root aria-label="Statements brought in" style={{ marginTop: 18 }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>When, {zoneText(timeZone)}</Table.ColumnHeader>
            <Table.ColumnHeader>Statement</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">New lines</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Known</Table.ColumnHeader>
            <Table.ColumnHeader>By</Table.ColumnHeader>
            <Table.ColumnHeader>State</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {statements.map(pull => (
            <Table.Row key={pull.jobId}>
              <Table.Cell>{momentText(pull.startedAt, timeZone)}</Table.Cell>
              <Table.Cell>{pull.sort === 'bank_pull' ? 'pulled from the bank' : pull.message}</Table.Cell>
              <Table.Cell textAlign="end">{pull.added}</Table.Cell>
              <Table.Cell textAlign="end">{pull.same}</Table.Cell>
              <Table.Cell>{pull.by}</Table.Cell>
              <Table.Cell color={pull.state === 'failed' ? 'crimson' : 'inherit'}>
                {pull.state === 'failed' ? `▲ ${pull.message}` : pull.state}
              </Table.Cell>
            </Table.Row>
          ))}
          {statements.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={6} color="muted">
                No statement was brought in yet: camt.053 and CSV are read.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
    </Page>
  )
}

/** The words by which the bank names each source: what makes pairings certain, each as it was confirmed. */
const Wordings = () => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { data } = useQuery(wordingsQuery(clientId))
  const { wording } = useBankActs(clientId)
  return (
    <Table.Root aria-label="What names a source in bank lines" style={{ marginTop: 18 }}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader style={{ width: 200 }}>Source</Table.ColumnHeader>
          <Table.ColumnHeader>Named in bank lines by</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {data?.sources.map(source => (
          <Table.Row key={source.source}>
            <Table.Cell>{source.name}</Table.Cell>
            <Table.Cell>
              <Span textStyle="mono">{source.source}</Span>
              {source.wordings.map(words => (
                <span key={words}>
                  {' · '}
                  <Span textStyle="mono">{words}</Span>{' '}
                  <Button
                    variant="ghost"
                    textStyle="small"
                    aria-label={`Forget ${words}`}
                    onClick={() =>
                      wording.mutate(
                        { source: source.source, wording: words, known: false },
                        { onError: notice.refuse, onSuccess: () => notice.say(`“${words}” names nobody any more.`) },
                      )
                    }
                  >
                    forget
                  </Button>
                </span>
              ))}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  )
}
