import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { pullsQuery } from '../context/sharedQueries.ts'
import { Amount } from '../ui/Amount.tsx'
import { FileButton } from '../ui/FileButton.tsx'
import { dateText, momentText } from '../ui/formats.ts'
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
  const { data } = useQuery(bankAccountsQuery(clientId))
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
      <table className="sheet" aria-label="Bank accounts">
        <thead>
          <tr>
            <th>Code</th>
            <th>Account</th>
            <th>Number</th>
            <th>Statement from</th>
            <th>to</th>
            <th className="right">Lines</th>
            <th className="right">Not paired</th>
            <th className="right">Moved, bank</th>
            <th className="right">Balance, books</th>
          </tr>
        </thead>
        <tbody>
          {data?.accounts.map(account => (
            <tr key={account.code}>
              <td className="mono">{account.code}</td>
              <td>
                <Link to={href(`/bank/${account.code}`)}>{account.name}</Link>
              </td>
              <td className="mono">{account.bankNumber}</td>
              <td>{dateText(account.from)}</td>
              <td>{dateText(account.to)}</td>
              <td className="right">{account.lines}</td>
              <td className="right">{account.open}</td>
              <td className="right">
                <Amount minor={account.bank} currency={account.currency} />
              </td>
              <td className="right">
                <Amount
                  minor={account.books}
                  currency={account.currency}
                  trace={{ at: 'account', account: account.code }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Wordings />
      <table className="sheet" aria-label="Statements brought in" style={{ marginTop: 18 }}>
        <thead>
          <tr>
            <th>When</th>
            <th>Statement</th>
            <th className="right">New lines</th>
            <th className="right">Known</th>
            <th>By</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          {statements.map(pull => (
            <tr key={pull.jobId}>
              <td>{momentText(pull.startedAt, timeZone)}</td>
              <td>{pull.sort === 'bank_pull' ? 'pulled from the bank' : pull.message}</td>
              <td className="right">{pull.added}</td>
              <td className="right">{pull.same}</td>
              <td>{pull.by}</td>
              <td className={pull.state === 'failed' ? 'crimson' : ''}>
                {pull.state === 'failed' ? `▲ ${pull.message}` : pull.state}
              </td>
            </tr>
          ))}
          {statements.length === 0 ? (
            <tr>
              <td colSpan={6} className="muted">
                No statement was brought in yet: camt.053 and CSV are read.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
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
    <table className="sheet" aria-label="What names a source in bank lines" style={{ marginTop: 18 }}>
      <thead>
        <tr>
          <th style={{ width: 200 }}>Source</th>
          <th>Named in bank lines by</th>
        </tr>
      </thead>
      <tbody>
        {data?.sources.map(source => (
          <tr key={source.source}>
            <td>{source.name}</td>
            <td>
              <span className="mono">{source.source}</span>
              {source.wordings.map(words => (
                <span key={words}>
                  {' · '}
                  <span className="mono">{words}</span>{' '}
                  <button
                    type="button"
                    className="linklike small"
                    aria-label={`Forget ${words}`}
                    onClick={() =>
                      wording.mutate(
                        { source: source.source, wording: words, known: false },
                        { onError: notice.refuse, onSuccess: () => notice.say(`“${words}” names nobody any more.`) },
                      )
                    }
                  >
                    forget
                  </button>
                </span>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
