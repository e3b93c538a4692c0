import { Box, Flex } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { Button } from '../ui/Button.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { dateText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { BookLinks } from './BookLinks.tsx'
import { ratesQuery } from './bookQueries.ts'

/** The exchange rates that entries in other currencies are booked at: each from its date until the next. */
export const RatesPage = () => {
  const { clientId, base } = useClient()
  const { data } = useQuery(ratesQuery(clientId))
  const { saveRates } = useMapActs(clientId)
  const notice = useNotice()
  const [draft, setDraft] = useState({ date: '', from: '', rate: '' })
  const plain = draft.rate.trim().replace(',', '.')
  const whole = draft.date !== '' && /^[A-Za-z]{3}$/.test(draft.from.trim()) && Number(plain) > 0
  const store = (): void =>
    saveRates.mutate([{ date: draft.date, from: draft.from.trim().toUpperCase(), to: base, rate: plain }], {
      onSuccess: () => setDraft({ ...draft, rate: '' }),
      onError: notice.refuse,
    })
  return (
    <Page
      links={<BookLinks here="rates" />}
      title="Exchange rates"
      facts={
        <span>the newest on or before an entry’s date holds; what is posted stays at the rate it was booked at</span>
      }
    >
      <table className="sheet" aria-label="Exchange rates">
        <thead>
          <tr>
            <th style={{ width: 160 }}>From</th>
            <th style={{ width: 120 }}>One</th>
            <th className="right" style={{ width: 160 }}>
              is
            </th>
            <th>of</th>
          </tr>
        </thead>
        <tbody>
          {data?.rates.map(rate => (
            <tr key={`${rate.date} ${rate.from} ${rate.to}`}>
              <td>{dateText(rate.date)}</td>
              <td>{rate.from}</td>
              <td className="right">{rate.rate}</td>
              <td>{rate.to}</td>
            </tr>
          ))}
          {data?.rates.length === 0 ? (
            <tr>
              <td colSpan={4} className="muted">
                No rates. They are needed once a source reports in another currency than {base}.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      <FootBar>
        <Flex gap="8px" align="center" flex="1">
          <Box as="label">
            From{' '}
            <Input
              type="date"
              aria-label="First day of the rate"
              value={draft.date}
              onChange={event => setDraft({ ...draft, date: event.target.value })}
            />
          </Box>
          <Box as="label">
            on, 1{' '}
            <Input
              w="64px"
              aria-label="Currency"
              placeholder="USD"
              value={draft.from}
              onChange={event => setDraft({ ...draft, from: event.target.value })}
            />
          </Box>
          <Box as="label">
            ={' '}
            <Input
              w="120px"
              inputMode="decimal"
              aria-label="Rate"
              value={draft.rate}
              onChange={event => setDraft({ ...draft, rate: event.target.value })}
            />{' '}
            {base}
          </Box>
          <Button look="main" disabled={!whole || saveRates.isPending} onClick={store}>
            Use this rate
          </Button>
        </Flex>
      </FootBar>
    </Page>
  )
}
