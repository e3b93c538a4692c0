import { Box, Flex } from '@chakra-ui/react'
import type { OpeningPage as OpeningFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Button } from '../ui/Button.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { accountTypeText } from '../ui/words.ts'
import { BookLinks } from './BookLinks.tsx'
import { openingQuery, useOpeningActs } from './bookQueries.ts'
import { blankTyped, type OpeningDraft, openingOf } from './openingDraft.ts'

/** What the accounts held as the books began: entered once, shown, and taken back. */
export const OpeningPage = () => {
  const { clientId } = useClient()
  const { data, error } = useQuery(openingQuery(clientId))
  return (
    <Page
      links={<BookLinks here="opening" />}
      title="Opening balances"
      facts={error ? <span className="crimson">{error.message}</span> : data ? <Facts page={data} /> : null}
    >
      {data ? data.standing ? <Standing page={data} /> : <OpeningForm page={data} /> : null}
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

const Standing = ({ page }: { readonly page: OpeningFacts }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { undo } = useOpeningActs(clientId)
  const names = new Map(page.accounts.map(account => [account.code, account]))
  const lines = page.standing?.lines ?? []
  const side = (sign: 1 | -1) => lines.reduce((sum, line) => sum + Math.max(0, line.amount * sign), 0)
  return (
    <>
      <table className="sheet" aria-label="Opening balances">
        <Heads />
        <tbody>
          {lines.map(({ account, amount }) => (
            <tr key={account}>
              <td className="mono">{account}</td>
              <td>{names.get(account)?.name ?? ''}</td>
              <td>{accountTypeText(names.get(account)?.type ?? '')}</td>
              <td className="right">{amount > 0 ? <Amount minor={amount} /> : null}</td>
              <td className="right">{amount < 0 ? <Amount minor={-amount} /> : null}</td>
            </tr>
          ))}
          <tr className="total rule">
            <td />
            <td colSpan={2}>Total</td>
            <td className="right">
              <Amount minor={side(1)} />
            </td>
            <td className="right">
              <Amount minor={side(-1)} />
            </td>
          </tr>
        </tbody>
      </table>
      <Flex mt="12px" gap="12px" align="center">
        <Button
          disabled={undo.isPending}
          onClick={() =>
            undo.mutate(undefined, {
              onError: notice.refuse,
              onSuccess: () => notice.say('Taken back, with an entry of its own. They can be entered anew.'),
            })
          }
        >
          Take them back
        </Button>
        <span className="muted small">
          Adds an entry of the same day that undoes this one; then they can be entered anew.
        </span>
      </Flex>
    </>
  )
}

const Heads = () => (
  <thead>
    <tr>
      <th style={{ width: 90 }}>Account</th>
      <th>Name</th>
      <th style={{ width: 190 }}>Type</th>
      <th className="right" style={{ width: 160 }}>
        Debit
      </th>
      <th className="right" style={{ width: 160 }}>
        Credit
      </th>
    </tr>
  </thead>
)

const OpeningForm = ({ page }: { readonly page: OpeningFacts }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { post } = useOpeningActs(clientId)
  const [date, setDate] = useState(page.before ?? '')
  const [draft, setDraft] = useState<OpeningDraft>({})
  const { lines, debit, credit, wrong } = openingOf(draft, page.base)
  const type = (account: string, side: 'debit' | 'credit', text: string) =>
    setDraft(before => ({ ...before, [account]: { ...(before[account] ?? blankTyped), [side]: text } }))
  const missing =
    wrong.size > 0
      ? `${countText(wrong.size, 'field')} in no shape of an amount`
      : lines.length < 2
        ? 'at least two accounts hold something'
        : debit !== credit
          ? 'both sides must come to the same'
          : date === ''
            ? 'as at which day'
            : null
  const save = () =>
    post.mutate(
      { date, lines: [...lines] },
      {
        onError: notice.refuse,
        onSuccess: ({ number }) => notice.say(`Posted as ${number}, dated ${dateText(date)}.`),
      },
    )
  return (
    <>
      <Flex gap="10px" align="center" mb="8px">
        <label htmlFor="opening-date">As at</label>
        <Input id="opening-date" type="date" w="150px" value={date} onChange={event => setDate(event.target.value)} />
        <span className="muted small">
          {page.before
            ? `The first movement is of the day after ${dateText(page.before)}.`
            : 'Nothing is booked so far: say the last day before the books begin.'}
        </span>
      </Flex>
      <table className="sheet" aria-label="Opening balances">
        <Heads />
        <tbody>
          {page.accounts.map(account => (
            <tr key={account.code}>
              <td className="mono">{account.code}</td>
              <td>{account.name}</td>
              <td>{accountTypeText(account.type)}</td>
              {(['debit', 'credit'] as const).map(side => (
                <td key={side} className="right">
                  <Input
                    h="26px"
                    w="130px"
                    textAlign="right"
                    inputMode="decimal"
                    aria-label={`${account.code} ${account.name}, ${side}`}
                    aria-invalid={wrong.has(account.code) || undefined}
                    borderColor={wrong.has(account.code) ? 'var(--crimson)' : undefined}
                    value={draft[account.code]?.[side] ?? ''}
                    onChange={event => type(account.code, side, event.target.value)}
                  />
                </td>
              ))}
            </tr>
          ))}
          <tr className="total rule">
            <td />
            <td colSpan={2}>
              Total
              {debit === credit ? null : (
                <span className="crimson">
                  {' '}
                  · {debit > credit ? 'debits' : 'credits'} are higher by <Amount minor={Math.abs(debit - credit)} />
                </span>
              )}
            </td>
            <td className="right">
              <Amount minor={debit} />
            </td>
            <td className="right">
              <Amount minor={credit} />
            </td>
          </tr>
        </tbody>
      </table>
      <Flex mt="12px" gap="12px" align="center">
        <Button look="main" disabled={missing !== null || post.isPending} onClick={save}>
          {missing === null ? `Post 1 entry dated ${dateText(date)}` : 'Post opening balances'}
        </Button>
        <Box as="span" className="muted small">
          {missing ?? `${countText(lines.length, 'account')}, ${page.base}`}
        </Box>
      </Flex>
    </>
  )
}
