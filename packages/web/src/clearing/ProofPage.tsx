import { Box, Flex } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { dateText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
import { Page } from '../ui/Page.tsx'
import { proofQuery } from './clearingQueries.ts'
import { Ladder } from './Ladder.tsx'
import { Leads, Missing } from './Leads.tsx'
import { OpenOrders } from './OpenOrders.tsx'
import { OutcomeMark } from './OutcomeMark.tsx'
import { StatedForm } from './StatedForm.tsx'

const Waterline = lazy(() => import('./Waterline.tsx').then(file => ({ default: file.Waterline })))
const ages = ['0–7 days', '8–30', '31–60', 'over 60'] as const

/** The proof of one clearing account: a ladder from the books to the processor, each rung a cause that opens. */
export const ProofPage = () => {
  const { account = '' } = useParams()
  const { clientId } = useClient()
  const { to } = usePeriod()
  const href = useHref()
  const [search, setSearch] = useSearchParams()
  const { data, error } = useQuery(
    proofQuery(clientId, account, { date: search.get('date') ?? to, currency: search.get('currency') }),
  )
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
          <OutcomeMark page={data} />
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
        <Box flex="0 0 44%" minW="0">
          <Ladder page={data} />
          <OpenOrders page={data} />
          <Leads page={data} />
          <Missing page={data} />
          {data.sort === 'balance' ? <StatedForm key={`${data.account} ${data.date}`} page={data} /> : null}
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
