import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { Amount } from '../ui/Amount.tsx'
import { dateText, momentText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { BookLinks } from './BookLinks.tsx'
import { entryQuery } from './bookQueries.ts'

/** One entry with its lines. */
export const EntryPage = () => {
  const { number = '' } = useParams()
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const { data, error } = useQuery(entryQuery(clientId, number))
  if (error)
    return (
      <Page links={<BookLinks here="entries" />} title="Entry">
        <span role="alert" className="crimson">
          {error.message}
        </span>
      </Page>
    )
  if (!data) return null
  const { entry } = data
  const foreign = data.currency !== data.base
  const whole = data.settlement ? ({ at: 'entry', entry: entry.number } as const) : null
  const side = (sign: 1 | -1) => data.lines.reduce((sum, line) => sum + Math.max(0, line.amount * sign), 0)
  return (
    <Page
      links={<BookLinks here="entries" />}
      title={`Entry ${entry.number}`}
      facts={
        <>
          <span>
            {entry.document.replace('_', ' ')} of {dateText(entry.date)}, {data.currency}
          </span>
          {data.settlement ? (
            <Link to={href(settlementPath(data.settlement))}>{entry.memo}</Link>
          ) : (
            <span>{entry.memo}</span>
          )}
          {entry.reverses ? <Link to={href(`/books/entries/${entry.reverses}`)}>reverses {entry.reverses}</Link> : null}
          {entry.reversedBy ? (
            <Link className="ochre" to={href(`/books/entries/${entry.reversedBy}`)}>
              reversed by {entry.reversedBy}
            </Link>
          ) : null}
          <span>
            posted by {data.by}, {momentText(entry.postedAt, timeZone)}
          </span>
        </>
      }
    >
      <table className="sheet" aria-label="Lines of the entry">
        <thead>
          <tr>
            <th style={{ width: 90 }}>Account</th>
            <th>Name</th>
            <th>Segments</th>
            <th style={{ width: 80 }}>Tax</th>
            <th className="right" style={{ width: 130 }}>
              Debit
            </th>
            <th className="right" style={{ width: 130 }}>
              Credit
            </th>
            {foreign ? (
              <th className="right" style={{ width: 120 }}>
                In {data.base}
              </th>
            ) : null}
          </tr>
        </thead>
        <tbody>
          {data.lines.map((line, index) => {
            const trace = data.settlement ? ({ at: 'entry_line', entry: entry.number, line: index + 1 } as const) : null
            return (
              <tr key={index}>
                <td className="mono">
                  <Link to={href(`/books/register/${line.account}`)}>{line.account}</Link>
                </td>
                <td>{line.accountName}</td>
                <td className="muted">{line.segments.replaceAll(';', ' · ')}</td>
                <td className="mono">{line.taxCode}</td>
                <td className="right">
                  {line.amount > 0 ? <Amount minor={line.amount} currency={data.currency} trace={trace} /> : null}
                </td>
                <td className="right">
                  {line.amount < 0 ? <Amount minor={-line.amount} currency={data.currency} trace={trace} /> : null}
                </td>
                {foreign ? (
                  <td className="right">
                    <Amount minor={line.baseAmount} currency={data.base} trace={trace} />
                  </td>
                ) : null}
              </tr>
            )
          })}
          <tr className="total rule">
            <td />
            <td colSpan={3}>Balances</td>
            <td className="right">
              <Amount minor={side(1)} currency={data.currency} trace={whole} />
            </td>
            <td className="right">
              <Amount minor={side(-1)} currency={data.currency} trace={whole} />
            </td>
            {foreign ? <td /> : null}
          </tr>
        </tbody>
      </table>
    </Page>
  )
}
