import { Box, Flex } from '@chakra-ui/react'
import type { ProofPage as ProofFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../course/ClientContext.tsx'
import { startOfPage } from '../course/startOfLink.ts'
import { Amount } from '../ui/Amount.tsx'
import { dateText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
import { Page } from '../ui/Page.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { causeText } from '../ui/words.ts'
import { proofQuery } from './clearingQueries.ts'

const Waterline = lazy(() => import('./Waterline.tsx').then(file => ({ default: file.Waterline })))
const ages = ['0–7 days', '8–30', '31–60', 'over 60'] as const

/** The proof of one clearing account: a ladder from the books to the processor, each rung a cause that opens. */
export const ProofPage = () => {
  const { account = '' } = useParams()
  const { clientId } = useClient()
  const { to } = usePeriod()
  const href = useHref()
  const [search, setSearch] = useSearchParams()
  const { data, error } = useQuery(proofQuery(clientId, account, search.get('date') ?? to))
  const links = <Link to={href('/clearing')}>Clearing accounts</Link>
  if (error)
    return (
      <Page links={links} title="Proof">
        <span role="alert" className="crimson">
          {error.message}
        </span>
      </Page>
    )
  if (!data) return null
  return (
    <Page
      links={links}
      title={`${data.account} ${data.name}`}
      facts={
        <>
          <span>
            at {dateText(data.date)}, {data.currency}
          </span>
          {data.unexplained === null ? null : data.unexplained === 0 ? (
            <StateMark state="closed" word="closed: nothing unexplained" />
          ) : (
            <span className="crimson">
              ▲ <Amount minor={data.unexplained} currency={data.currency} /> unexplained
            </span>
          )}
        </>
      }
      actions={
        <Box as="label" className="muted small">
          At{' '}
          <Input
            type="date"
            ml="6px"
            w="150px"
            value={data.date}
            aria-label="Date of the proof"
            onChange={event =>
              setSearch(before => {
                const next = new URLSearchParams(before)
                if (event.target.value) next.set('date', event.target.value)
                else next.delete('date')
                return next
              })
            }
          />
        </Box>
      }
    >
      <Flex gap="20px" align="flex-start">
        <Box flex="0 0 44%">
          <Ladder page={data} />
        </Box>
        <Box flex="1" minW="0" bg="var(--sheet)" borderWidth="1px" borderColor="var(--hairline)" p="12px">
          <Suspense fallback={<Box h="330px" />}>
            <Waterline page={data} />
          </Suspense>
          <table className="sheet" aria-label="Open, by age" style={{ marginTop: 12 }}>
            <thead>
              <tr>
                <th>Open, by age</th>
                {ages.map(age => (
                  <th key={age} className="right">
                    {age}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>{data.currency}</td>
                {data.ageing.map((amount, index) => (
                  <td key={ages[index]} className="right">
                    <Amount minor={amount} currency={data.currency} />
                  </td>
                ))}
              </tr>
            </tbody>
          </table>
        </Box>
      </Flex>
    </Page>
  )
}

const Ladder = ({ page }: { readonly page: ProofFacts }) => {
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
    <table className="sheet" aria-label={`From the books to ${page.sourceName}`}>
      <thead>
        <tr>
          <th>From the books to {page.sourceName}</th>
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
                <tr key={`${cause.cause} ${document.name} ${index}`}>
                  <td style={{ paddingLeft: 44 }} className="small">
                    {document.link ? (
                      <Link to={href(document.link)}>{document.name}</Link>
                    ) : (
                      document.name || 'lines up to this date'
                    )}
                  </td>
                  <td />
                  <td className="right small">
                    <Amount minor={document.amount} currency={page.currency} trace={startOfPage(document.link)} />
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
            <td colSpan={3} className="muted">
              {page.sourceName} has reported no balance up to this date. Pull it, or bring in balances.csv.
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
            <td>
              {page.sourceName} says, {dateText(page.reportedOn)}
            </td>
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
