import { Span, Table } from '@chakra-ui/react'
import { listEndpoints, type RateList } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { useMapActs } from '../context/sharedQueries.ts'
import { ListButton } from '../files/ListButton.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'

/** Rates that are saved with one request. */
const atOnce = 5000
/** Rows of a list that are shown; the rest is counted. */
const mostShown = 200

/** Brings in a list of exchange rates, or the reference rates of a central bank: what is new and what changes is seen before it is taken. */
export const RateListButton = () => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { saveRates } = useMapActs(clientId)
  const take = async (moved: RateList['rates'], close: () => void): Promise<void> => {
    try {
      for (let from = 0; from < moved.length; from += atOnce)
        await saveRates.mutateAsync(
          moved.slice(from, from + atOnce).map(({ date, from: one, to, rate }) => ({ date, from: one, to, rate })),
        )
      notice.say(`${countText(moved.length, 'rate')} taken. What is posted stays at the rate it was booked at.`)
      close()
    } catch (error) {
      notice.refuse(error)
    }
  }
  return (
    <ListButton<RateList>
      label="Bring in a list"
      read={(file, query) => call(listEndpoints.readRates, { client: clientId, file, query })}
      shown={(list, close) => {
        const moved = list.rates.filter(rate => rate.state !== 'same')
        const added = moved.filter(rate => rate.state === 'new').length
        const said = [
          added > 0 ? countText(added, 'new rate') : '',
          moved.length > added ? `${moved.length - added} changed` : '',
        ].filter(Boolean)
        return {
          title: said.length > 0 ? `The list has ${said.join(' and ')}` : 'The list changes nothing',
          act: moved.length > 0 ? `Take ${said.join(', ')}` : null,
          busy: saveRates.isPending,
          onTake: () => void take(moved, close),
          note: (
            <Span color="muted" textStyle="small">
              {list.rates.length - moved.length > 0 ? `${list.rates.length - moved.length} are as they were. ` : ''}
              {list.vanished > 0 ? `${list.vanished} that stand are not in the list, and stay.` : ''}
            </Span>
          ),
          body: <Rows rates={moved} />,
        }
      }}
    />
  )
}

const Rows = ({ rates }: { readonly rates: RateList['rates'] }) => (
  <Table.Root aria-label="Rates of the list">
    <Table.Header>
      <Table.Row>
        <Table.ColumnHeader>From</Table.ColumnHeader>
        <Table.ColumnHeader>One</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="right">is</Table.ColumnHeader>
        <Table.ColumnHeader>of</Table.ColumnHeader>
        <Table.ColumnHeader>State</Table.ColumnHeader>
      </Table.Row>
    </Table.Header>
    <Table.Body>
      {rates.slice(0, mostShown).map(rate => (
        <Table.Row key={`${rate.date} ${rate.from} ${rate.to}`}>
          <Table.Cell>{dateText(rate.date)}</Table.Cell>
          <Table.Cell>{rate.from}</Table.Cell>
          <Table.Cell textAlign="right">{rate.rate}</Table.Cell>
          <Table.Cell>{rate.to}</Table.Cell>
          <Table.Cell color="muted">{rate.state === 'changed' ? `was ${rate.was}` : 'new'}</Table.Cell>
        </Table.Row>
      ))}
      {rates.length > mostShown ? (
        <Table.Row>
          <Table.Cell colSpan={5} color="muted">
            and {rates.length - mostShown} more
          </Table.Cell>
        </Table.Row>
      ) : null}
    </Table.Body>
  </Table.Root>
)
