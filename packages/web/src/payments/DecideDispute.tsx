import { Button, chakra, Flex, Input, Span } from '@chakra-ui/react'
import type { DisputeRow, DisputesPage } from '@culvert/contract'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { amountText, currencySign, dateText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { useDisputeActs } from './paymentQueries.ts'

interface DecideDisputeProps {
  readonly row: DisputeRow
  readonly today: string
  readonly costs: DisputesPage['costs']
  readonly onClose: () => void
}

/** Lost: written off to a cost, or credited as if the goods had come back. One that is won closes by itself when the money comes. */
export const DecideDispute = ({ row, today, costs, onClose }: DecideDisputeProps) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const { decide } = useDisputeActs(clientId)
  const [as, setAs] = useState<'credited' | 'written_off'>('credited')
  const [account, setAccount] = useState('')
  const [date, setDate] = useState(today)
  const [note, setNote] = useState('')
  const amount = `${currencySign(row.currency)} ${amountText(-row.left, row.currency, locale)}`
  const missing = as === 'written_off' && account === '' ? 'choose the cost' : date === '' ? 'say the day' : null
  const store = (): void =>
    decide.mutate(
      { source: row.source, lineId: row.lineId, date, note, decision: as === 'credited' ? { as } : { as, account } },
      {
        onError: notice.refuse,
        onSuccess: () => {
          notice.say(`${as === 'credited' ? 'Credited' : 'Written off'}: ${amount}, dated ${dateText(date)}.`)
          onClose()
        },
      },
    )
  return (
    <Modal
      open
      title={`Decide ${row.lineId}, ${amount}`}
      onClose={onClose}
      foot={
        <>
          <Button variant="solid" disabled={missing !== null || decide.isPending} onClick={store}>
            {as === 'credited' ? 'Credit it' : 'Write it off'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          <Span color="muted" textStyle="small">
            {missing}
          </Span>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Select aria-label="What it comes to" value={as} onChange={event => setAs(event.target.value as typeof as)}>
          <option value="credited">Credit it: the sale is undone, with its tax</option>
          <option value="written_off">Write it off: a cost, without tax</option>
        </Select>
        {as === 'written_off' ? (
          <Select aria-label="Cost account" value={account} onChange={event => setAccount(event.target.value)}>
            <option value="">which cost …</option>
            {costs.map(one => (
              <option key={one.code} value={one.code}>
                {one.code} {one.name}
              </option>
            ))}
          </Select>
        ) : null}
        <DateInput aria-label="Decided on" value={date} onChange={setDate} />
        <Input
          aria-label="Note"
          placeholder="Note, if any"
          value={note}
          onChange={event => setNote(event.target.value)}
        />
        <chakra.p color="muted" textStyle="small" style={{ margin: 0 }}>
          {as === 'credited'
            ? row.sale
              ? `Posts an entry like a refund of ${row.sale.lineId} of ${dateText(row.sale.date)}: ${amount} out of ${row.account} ${row.accountName}.`
              : `Posts an entry like a refund; its sale is not known, so it is taxed as of its own day: ${amount} out of ${row.account} ${row.accountName}.`
            : `Posts an entry: ${amount} out of ${row.account} ${row.accountName}, to the cost.`}
        </chakra.p>
      </Flex>
    </Modal>
  )
}
