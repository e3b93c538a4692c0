import { Button, Table } from '@chakra-ui/react'
import type { ProofPage as ProofFacts } from '@culvert/contract'
import { useState } from 'react'
import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { startOfRef } from '../context/startOfLink.ts'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { causeText } from '../ui/words.ts'
import { DocumentName } from './DocumentName.tsx'

/** From the books to the other side: each rung a cause that opens. */
export const Ladder = ({ page }: { readonly page: ProofFacts }) => {
  const href = useHref()
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set())
  const toggle = (cause: string) => {
    const next = new Set(open)
    if (!next.delete(cause)) next.add(cause)
    setOpen(next)
  }
  const explained = page.causes.filter(cause => cause.cause !== 'unexplained')
  const sum = page.ledger + explained.reduce((total, cause) => total + cause.amount, 0)
  return (
    <Table.Root aria-label={`From the books to ${otherSide(page)}`}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>From the books to {otherSide(page)}</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 60 }}>
            Items
          </Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 120 }}>
            {page.currency}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        <Table.Row data-tone="total">
          <Table.Cell>
            <Link to={href(`/books/register/${page.account}?to=${page.date}`)}>Balance in the books</Link>
          </Table.Cell>
          <Table.Cell />
          <Table.Cell textAlign="end">
            <Amount
              minor={page.ledger}
              currency={page.currency}
              trace={{ at: 'account', account: page.account, to: page.date }}
            />
          </Table.Cell>
        </Table.Row>
        {explained.flatMap(cause => [
          <Table.Row key={cause.cause}>
            <Table.Cell style={{ paddingLeft: 22 }}>
              <Button variant="ghost" aria-expanded={open.has(cause.cause)} onClick={() => toggle(cause.cause)}>
                <span aria-hidden="true">{open.has(cause.cause) ? '▾' : '▸'} </span>
                {causeText(cause.cause)}
              </Button>
            </Table.Cell>
            <Table.Cell textAlign="end">{cause.documents.length}</Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={cause.amount} currency={page.currency} onOpen={() => toggle(cause.cause)} />
            </Table.Cell>
          </Table.Row>,
          ...(open.has(cause.cause)
            ? cause.documents.map((document, index) => (
                <Table.Row key={`${cause.cause} ${JSON.stringify(document.ref)} ${index}`}>
                  <Table.Cell style={{ paddingLeft: 44 }} textStyle="small" data-words="">
                    <DocumentName document={document} currency={page.currency} />
                  </Table.Cell>
                  <Table.Cell />
                  <Table.Cell textAlign="end" textStyle="small" data-words="">
                    <Amount
                      minor={document.amount}
                      currency={page.currency}
                      trace={document.ref && startOfRef(document.ref, page.currency)}
                    />
                  </Table.Cell>
                </Table.Row>
              ))
            : []),
        ])}
        <Table.Row data-tone="total">
          <Table.Cell>Explained</Table.Cell>
          <Table.Cell />
          <Table.Cell textAlign="end">
            <Amount
              minor={sum}
              currency={page.currency}
              onOpen={() => setOpen(open.size > 0 ? new Set() : new Set(explained.map(cause => cause.cause)))}
            />
          </Table.Cell>
        </Table.Row>
        {page.rowsAside.length > 0 ? (
          <Table.Row data-tone="waiting">
            <Table.Cell colSpan={3} whiteSpace="normal" color="ochre">
              ◆ {countText(page.rowsAside.length, 'row')} of files could not be read and{' '}
              {page.rowsAside.length === 1 ? 'was' : 'were'} set aside:{' '}
              {page.rowsAside.slice(0, 4).map((row, at) => (
                <span key={row.name}>
                  {at > 0 ? ', ' : ''}
                  <Link to={href(row.ref.of === 'source' ? `/sources/${row.ref.source}` : '/sources')}>{row.name}</Link>
                </span>
              ))}
              {page.rowsAside.length > 4 ? ' …' : ''}
            </Table.Cell>
          </Table.Row>
        ) : null}
        {page.unexplained === null ? (
          <Table.Row>
            <Table.Cell colSpan={3} color="muted" whiteSpace="normal" lineHeight="1.25">
              {page.sort === 'balance'
                ? 'Nobody has stated this balance up to this date: an agency’s statement, a till’s list of gift cards.'
                : `${page.sourceName} has reported no balance up to this date. Pull it, or bring in balances.csv.`}
            </Table.Cell>
          </Table.Row>
        ) : (
          <Table.Row data-tone={page.unexplained === 0 ? '' : 'crimson'}>
            <Table.Cell style={{ paddingLeft: 22 }}>
              {page.unexplained === 0 ? 'unexplained' : '▲ unexplained'}
            </Table.Cell>
            <Table.Cell />
            <Table.Cell textAlign="end" fontWeight="600">
              <Amount minor={page.unexplained} currency={page.currency} />
            </Table.Cell>
          </Table.Row>
        )}
        {page.reported === null ? null : (
          <Table.Row data-tone="total" data-rule="">
            <Table.Cell>{sayText(page)}</Table.Cell>
            <Table.Cell />
            <Table.Cell textAlign="end">
              <Amount
                minor={page.reported}
                currency={page.currency}
                trace={{ at: 'reported', account: page.account, currency: page.currency, date: page.date }}
              />
            </Table.Cell>
          </Table.Row>
        )}
      </Table.Body>
    </Table.Root>
  )
}

/** What the books are held against. */
const otherSide = (page: ProofFacts): string =>
  page.sort === 'clearing' ? page.sourceName : page.sort === 'orders' ? 'what the orders leave open' : 'what was stated'

const sayText = (page: ProofFacts): string =>
  page.sort === 'clearing'
    ? `${page.sourceName} says, ${dateText(page.reportedOn)}`
    : page.sort === 'orders'
      ? `${page.sourceName}: what ${countText(page.openOrders.total, 'order')} ${page.openOrders.total === 1 ? 'leaves' : 'leave'} open`
      : page.sourceName === 'it was stated'
        ? `Stated, ${dateText(page.reportedOn)}`
        : `${page.sourceName} says it holds, ${dateText(page.reportedOn)}`
