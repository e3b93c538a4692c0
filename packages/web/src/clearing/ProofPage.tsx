import { Box, Flex } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { Ageing } from './Ageing.tsx'
import { proofQuery } from './clearingQueries.ts'
import { Ladder } from './Ladder.tsx'
import { Leads } from './Leads.tsx'
import { Missing } from './Missing.tsx'
import { OpenOrders } from './OpenOrders.tsx'
import { OutcomeMark } from './OutcomeMark.tsx'
import { StatedForm } from './StatedForm.tsx'

const Waterline = lazy(() => import('./Waterline.tsx').then(file => ({ default: file.Waterline })))

/** The proof of one clearing account: a ladder from the books to the processor, each rung a cause that opens. */
export const ProofPage = () => {
  const { account = '' } = useParams()
  const { clientId } = useClient()
  const { to } = usePeriod()
  const href = useHref()
  const [search, setSearch] = useSearchParams()
  const query = useQuery(
    proofQuery(clientId, account, { date: search.get('date') ?? to, currency: search.get('currency') }),
  )
  const { data } = query
  const links = <Link to={href('/clearing')}>Clearing accounts</Link>
  if (!data) return <Page links={links} title="Proof" of={query} />
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
        <Box as="label" color="muted" textStyle="small">
          At{' '}
          <DateInput
            ml="6px"
            w="160px"
            value={data.date}
            aria-label="Date of the proof"
            onChange={date =>
              setSearch(before => {
                const next = new URLSearchParams(before)
                if (date) next.set('date', date)
                else next.delete('date')
                return next
              })
            }
          />
        </Box>
      }
    >
      <Flex gap="20px" align={{ base: 'stretch', lg: 'flex-start' }} direction={{ base: 'column', lg: 'row' }}>
        <Box flex={{ lg: '0 0 44%' }} minW="0">
          <Ladder page={data} />
          <OpenOrders page={data} />
          <Leads page={data} />
          <Missing page={data} />
          {data.sort === 'balance' ? <StatedForm key={`${data.account} ${data.date}`} page={data} /> : null}
        </Box>
        <Box flex="1" minW="0" bg="sheet" borderWidth="1px" borderColor="hairline" p="12px">
          <Suspense fallback={<Box h="330px" />}>
            <Waterline page={data} />
          </Suspense>
          <Ageing page={data} />
        </Box>
      </Flex>
    </Page>
  )
}
