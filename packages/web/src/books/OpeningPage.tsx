import { Box, Button, Flex, Input, Span, Table } from '@chakra-ui/react'
import type { OpeningPage as OpeningFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { accountTypeText } from '../ui/words.ts'
import { BookLinks } from './BookLinks.tsx'
import { openingQuery, useOpeningActs } from './bookQueries.ts'
import { blankTyped, type OpeningDraft, openingOf } from './openingDraft.ts'

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
      <Table.Root aria-label="Opening balances">
        <Heads />
        <Table.Body>
          {lines.map(({ account, amount }) => (
            <Table.Row key={account}>
              <Table.Cell textStyle="mono">{account}</Table.Cell>
              <Table.Cell>{names.get(account)?.name ?? ''}</Table.Cell>
              <Table.Cell>{accountTypeText(names.get(account)?.type ?? '')}</Table.Cell>
              <Table.Cell textAlign="end">
                {amount > 0 ? <Amount minor={amount} trace={{ at: 'account', account }} /> : null}
              </Table.Cell>
              <Table.Cell textAlign="end">
                {amount < 0 ? <Amount minor={-amount} trace={{ at: 'account', account }} /> : null}
              </Table.Cell>
            </Table.Row>
          ))}
          <Table.Row data-tone="total" data-rule="">
            <Table.Cell />
            <Table.Cell colSpan={2}>Total</Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={side(1)} />
            </Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={side(-1)} />
            </Table.Cell>
          </Table.Row>
        </Table.Body>
      </Table.Root>
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
        <Span color="muted" textStyle="small">
          Adds an entry of the same day that undoes this one; then they can be entered anew.
        </Span>
      </Flex>
    </>
  )
}

const Heads = () => (
  <Table.Header>
    <Table.Row>
      <Table.ColumnHeader style={{ width: 90 }}>Account</Table.ColumnHeader>
      <Table.ColumnHeader>Name</Table.ColumnHeader>
      <Table.ColumnHeader style={{ width: 190 }}>Type</Table.ColumnHeader>
      <Table.ColumnHeader textAlign="end" style={{ width: 160 }}>
        Debit
      </Table.ColumnHeader>
      <Table.ColumnHeader textAlign="end" style={{ width: 160 }}>
        Credit
      </Table.ColumnHeader>
    </Table.Row>
  </Table.Header>
)

const OpeningForm = ({ page }: { readonly page: OpeningFacts }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const { post } = useOpeningActs(clientId)
  const [date, setDate] = useState(page.before ?? '')
  const [draft, setDraft] = useState<OpeningDraft>({})
  const { lines, debit, credit, wrong } = openingOf(draft, page.base, locale)
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
      <Unsaved changed={lines.length > 0 || wrong.size > 0} what="the opening balances" />
      <Flex gap="10px" align="center" mb="8px">
        <label htmlFor="opening-date">As at</label>
        <DateInput id="opening-date" value={date} onChange={setDate} />
        <Span color="muted" textStyle="small">
          {page.before
            ? `The first movement is of the day after ${dateText(page.before)}.`
            : 'Nothing is booked so far: say the last day before the books begin.'}
        </Span>
      </Flex>
      <Table.Root aria-label="Opening balances">
        <Heads />
        <Table.Body>
          {page.accounts.map(account => (
            <Table.Row key={account.code}>
              <Table.Cell textStyle="mono">{account.code}</Table.Cell>
              <Table.Cell>{account.name}</Table.Cell>
              <Table.Cell>{accountTypeText(account.type)}</Table.Cell>
              {(['debit', 'credit'] as const).map(side => (
                <Table.Cell key={side} textAlign="end">
                  <Input
                    h="26px"
                    w="130px"
                    textAlign="right"
                    inputMode="decimal"
                    aria-label={`${account.code} ${account.name}, ${side}`}
                    aria-invalid={wrong.has(account.code) || undefined}
                    borderColor={wrong.has(account.code) ? 'crimson' : undefined}
                    value={draft[account.code]?.[side] ?? ''}
                    onChange={event => type(account.code, side, event.target.value)}
                  />
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
          <Table.Row data-tone="total" data-rule="">
            <Table.Cell />
            <Table.Cell colSpan={2}>
              Total
              {debit === credit ? null : (
                <Span color="crimson">
                  {' '}
                  · {debit > credit ? 'debits' : 'credits'} are higher by <Amount minor={Math.abs(debit - credit)} />
                </Span>
              )}
            </Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={debit} />
            </Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={credit} />
            </Table.Cell>
          </Table.Row>
        </Table.Body>
      </Table.Root>
      <Flex mt="12px" gap="12px" align="center">
        <Button variant="solid" disabled={missing !== null || post.isPending} onClick={save}>
          {missing === null ? `Post 1 entry dated ${dateText(date)}` : 'Post opening balances'}
        </Button>
        <Box as="span" color="muted" textStyle="small">
          {missing ?? `${countText(lines.length, 'account')}, ${page.base}`}
        </Box>
      </Flex>
    </>
  )
}
