import { Flex, Span } from '@chakra-ui/react'
import type { OpeningPage as OpeningFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { accountTypeText } from '../ui/words.ts'
import { BookLinks } from './BookLinks.tsx'
import { openingQuery, useOpeningActs } from './bookQueries.ts'
import { OpeningForm } from './OpeningForm.tsx'

/** What the accounts held as the books began: entered once, shown, and taken back. */
export const OpeningPage = () => {
  const { clientId } = useClient()
  const query = useQuery(openingQuery(clientId))
  const { data } = query
  return (
    <Page
      links={<BookLinks here="opening" />}
      title="Opening balances"
      of={query}
      facts={data ? <Facts page={data} /> : null}
    >
      {data ? data.standing ? <StandingBalances page={data} /> : <OpeningForm page={data} /> : null}
    </Page>
  )
}

const Facts = ({ page }: { readonly page: OpeningFacts }) => {
  const href = useHref()
  return page.standing ? (
    <span>
      as at {dateText(page.standing.date)},{' '}
      <Link to={href(`/books/entries/${page.standing.number}`)} style={{ textDecoration: 'underline' }}>
        {page.standing.number}
      </Link>
      , by {page.standing.by} · in {page.base}
    </span>
  ) : (
    <span>what each account held at the end of the day before the books begin, in {page.base}</span>
  )
}

const StandingBalances = ({ page }: { readonly page: OpeningFacts }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { undo } = useOpeningActs(clientId)
  const lines = page.standing?.lines ?? []
  const side = (sign: 1 | -1) => lines.reduce((sum, line) => sum + Math.max(0, line.amount * sign), 0)
  return (
    <>
      <SheetTable
        label="Opening balances"
        columns={standingColumns(new Map(page.accounts.map(account => [account.code, account])))}
        rows={lines}
        rowKey={line => line.account}
        traceOf={line => ({ at: 'account', account: line.account })}
        totals={{
          debit: <Amount minor={side(1)} trace={{ at: 'entry', entry: page.standing?.number ?? '' }} />,
          credit: <Amount minor={side(-1)} trace={{ at: 'entry', entry: page.standing?.number ?? '' }} />,
        }}
      />
      <Flex mt="12px" gap="12px" align="center">
        <Act
          right="post"
          disabled={undo.isPending}
          onClick={() =>
            undo.mutate(undefined, {
              onError: notice.refuse,
              onSuccess: () => notice.say('Taken back, with an entry of its own. They can be entered anew.'),
            })
          }
        >
          Take them back
        </Act>
        <Span color="muted" textStyle="small">
          Adds an entry of the same day that undoes this one; then they can be entered anew.
        </Span>
      </Flex>
    </>
  )
}

type Standing = NonNullable<OpeningFacts['standing']>['lines'][number]
type Account = OpeningFacts['accounts'][number]

const standingColumns = (accounts: ReadonlyMap<string, Account>): readonly SheetColumn<Standing>[] => {
  const nameOf = ({ account }: Standing) => accounts.get(account)?.name ?? ''
  const typeOf = ({ account }: Standing) => accountTypeText(accounts.get(account)?.type ?? '')
  const side = (id: string, head: string, sign: 1 | -1): SheetColumn<Standing> => ({
    id,
    head,
    width: '160px',
    right: true,
    value: line => Math.max(0, line.amount * sign),
    cell: line =>
      line.amount * sign > 0 ? (
        <Amount minor={line.amount * sign} trace={{ at: 'account', account: line.account }} />
      ) : null,
  })
  return [
    { id: 'account', head: 'Account', width: '90px', mono: true, value: one => one.account, cell: one => one.account },
    { id: 'name', head: 'Name', value: nameOf, cell: nameOf },
    { id: 'type', head: 'Type', width: '190px', value: typeOf, cell: typeOf },
    side('debit', 'Debit', 1),
    side('credit', 'Credit', -1),
  ]
}
