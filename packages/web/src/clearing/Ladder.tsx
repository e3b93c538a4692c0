import type { ProofPage as ProofFacts } from '@culvert/contract'
import { useState } from 'react'
import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { pageOfRef, startOfRef } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, dayText, readableDates } from '../ui/formats.ts'
import { causeText } from '../ui/words.ts'

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
    <table className="sheet" aria-label={`From the books to ${otherSide(page)}`}>
      <thead>
        <tr>
          <th>From the books to {otherSide(page)}</th>
          <th className="right" style={{ width: 60 }}>
            Items
          </th>
          <th className="right" style={{ width: 120 }}>
            {page.currency}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr className="total">
          <td>
            <Link to={href(`/books/register/${page.account}?to=${page.date}`)}>Balance in the books</Link>
          </td>
          <td />
          <td className="right">
            <Amount
              minor={page.ledger}
              currency={page.currency}
              trace={{ at: 'account', account: page.account, to: page.date }}
            />
          </td>
        </tr>
        {explained.flatMap(cause => [
          <tr key={cause.cause}>
            <td style={{ paddingLeft: 22 }}>
              <button
                type="button"
                className="linklike"
                aria-expanded={open.has(cause.cause)}
                onClick={() => toggle(cause.cause)}
              >
                <span aria-hidden="true">{open.has(cause.cause) ? '▾' : '▸'} </span>
                {causeText(cause.cause)}
              </button>
            </td>
            <td className="right">{cause.documents.length}</td>
            <td className="right">
              <Amount minor={cause.amount} currency={page.currency} onOpen={() => toggle(cause.cause)} />
            </td>
          </tr>,
          ...(open.has(cause.cause)
            ? cause.documents.map((document, index) => (
                <tr key={`${cause.cause} ${JSON.stringify(document.ref)} ${index}`}>
                  <td style={{ paddingLeft: 44 }} className="small">
                    <DocumentName document={document} currency={page.currency} />
                  </td>
                  <td />
                  <td className="right small">
                    <Amount
                      minor={document.amount}
                      currency={page.currency}
                      trace={document.ref && startOfRef(document.ref, page.currency)}
                    />
                  </td>
                </tr>
              ))
            : []),
        ])}
        <tr className="total">
          <td>Explained</td>
          <td />
          <td className="right">
            <Amount minor={sum} currency={page.currency} />
          </td>
        </tr>
        {page.unexplained === null ? (
          <tr>
            <td colSpan={3} className="muted wrap">
              {page.sort === 'balance'
                ? 'Nobody has stated this balance up to this date: an agency’s statement, a till’s list of gift cards.'
                : `${page.sourceName} has reported no balance up to this date. Pull it, or bring in balances.csv.`}
            </td>
          </tr>
        ) : (
          <tr className={page.unexplained === 0 ? '' : 'crimson'}>
            <td style={{ paddingLeft: 22 }}>{page.unexplained === 0 ? 'unexplained' : '▲ unexplained'}</td>
            <td />
            <td className="right strong">
              <Amount minor={page.unexplained} currency={page.currency} />
            </td>
          </tr>
        )}
        {page.reported === null ? null : (
          <tr className="total rule">
            <td>{sayText(page)}</td>
            <td />
            <td className="right">
              <Amount minor={page.reported} currency={page.currency} />
            </td>
          </tr>
        )}
      </tbody>
    </table>
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

type ProofDocument = ProofFacts['causes'][number]['documents'][number]

const DocumentName = ({ document, currency }: { readonly document: ProofDocument; readonly currency: string }) => {
  const href = useHref()
  const { open } = useTrace()
  const day = document.date === null ? '' : `, ${dayText(document.date)}`
  const { ref } = document
  const page = ref && pageOfRef(ref, currency)
  const start = ref && startOfRef(ref, currency)
  if (page)
    return (
      <>
        <Link to={href(page)}>{readableDates(document.name)}</Link>
        <span className="muted">{day}</span>
      </>
    )
  if (!start) return <>{document.name || 'lines up to this date'}</>
  return (
    <button type="button" className="linklike" onClick={() => open(start)}>
      {ref?.of === 'order' ? 'order' : 'line'} {document.name}
      {day}
    </button>
  )
}
