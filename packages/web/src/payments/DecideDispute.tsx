import { Button, chakra, Flex } from '@chakra-ui/react'
import { paymentEndpoints as at, type DisputeRow, type DisputesPage, decideDisputeBody } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { Choices } from '../ui/form/Choices.tsx'
import { DateField, SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { amountText, currencySign, dateText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useWayBack } from '../ui/useWayBack.ts'
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
  const wayBack = useWayBack(clientId)
  const form = useSchemaForm(decideDisputeBody, {
    source: row.source,
    lineId: row.lineId,
    date: today,
    note: '',
    decision: { as: 'credited' },
  })
  const { control } = form
  // Watched whole: of a part alone one is not told when the whole is set.
  const { as } = form.watch('decision')
  const amount = `${currencySign(row.currency)} ${amountText(-row.left, row.currency, locale)}`
  const store = form.handleSubmit(body =>
    decide.mutate(body, {
      onError: notice.refuse,
      onSuccess: () => {
        notice.say(
          `${body.decision.as === 'credited' ? 'Credited' : 'Written off'}: ${amount}, dated ${dateText(body.date)}.`,
          wayBack('Take it back', async () => {
            await call(at.undoDispute, { client: clientId, body: { source: row.source, lineId: row.lineId } })
            return 'Taken back by a reversal; it is disputed again.'
          }),
        )
        onClose()
      },
    }),
  )
  return (
    <Modal
      open
      onSubmit={() => void store()}
      changed={form.formState.isDirty}
      title={`Decide ${row.lineId}, ${amount}`}
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={decide.isPending}>
            {as === 'credited' ? 'Credit it' : 'Write it off'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Choices
          label="What it comes to"
          value={as}
          choices={[
            { value: 'credited', text: 'Credit it', detail: 'the sale is undone, with its tax' },
            { value: 'written_off', text: 'Write it off', detail: 'a cost, without tax' },
          ]}
          onChange={next =>
            form.setValue('decision', next === 'credited' ? { as: next } : { as: next, account: '' }, {
              shouldValidate: form.formState.isSubmitted,
            })
          }
        />
        {as === 'written_off' ? (
          <SelectField control={control} name="decision.account" label="Cost account">
            <option value="">which cost …</option>
            {costs.map(one => (
              <option key={one.code} value={one.code}>
                {one.code} {one.name}
              </option>
            ))}
          </SelectField>
        ) : null}
        <DateField control={control} name="date" label="Decided on" />
        <TextField control={control} name="note" label="Note" hint="if any" />
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
