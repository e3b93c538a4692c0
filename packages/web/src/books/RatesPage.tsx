import { Box, Button, Flex, Input, Table } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMapActs } from '../context/sharedQueries.ts'
import { DateInput } from '../ui/DateInput.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { BookLinks } from './BookLinks.tsx'
import { ratesQuery } from './bookQueries.ts'

/** The exchange rates that entries in other currencies are booked at: each from its date until the next. */
export const RatesPage = () => {
  const { clientId, base } = useClient()
  const query = useQuery(ratesQuery(clientId))
  const { data } = query
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
      of={query}
      links={<BookLinks here="rates" />}
      title="Exchange rates"
      facts={
        <span>the newest on or before an entry’s date holds; what is posted stays at the rate it was booked at</span>
      }
    >
      <Table.Root aria-label="Exchange rates">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ width: 160 }}>From</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 120 }}>One</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 160 }}>
              is
            </Table.ColumnHeader>
            <Table.ColumnHeader>of</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {data?.rates.map(rate => (
            <Table.Row key={`${rate.date} ${rate.from} ${rate.to}`}>
              <Table.Cell>{dateText(rate.date)}</Table.Cell>
              <Table.Cell>{rate.from}</Table.Cell>
              <Table.Cell textAlign="end">{rate.rate}</Table.Cell>
              <Table.Cell>{rate.to}</Table.Cell>
            </Table.Row>
          ))}
          {data?.rates.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={4} color="muted">
                No rates. They are needed once a source reports in another currency than {base}.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
      <FootBar>
        <Flex gap="8px" align="center" flex="1">
          <Box as="label">
            From{' '}
            <DateInput
              aria-label="First day of the rate"
              value={draft.date}
              onChange={date => setDraft({ ...draft, date })}
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
          <Button variant="solid" disabled={!whole || saveRates.isPending} onClick={store}>
            Use this rate
          </Button>
        </Flex>
      </FootBar>
    </Page>
  )
}
