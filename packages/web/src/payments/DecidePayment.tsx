import { Box, Button, chakra, Flex, Input } from '@chakra-ui/react'
import { decidedPayment, type OneSidedRow, type PaymentDecision, type TieOutPage } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { Choices } from '../ui/form/Choices.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { amountText, currencySign } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { Select } from '../ui/Select.tsx'
import { AttachChoice } from './AttachChoice.tsx'
import {
  asksForAccount,
  consequenceText,
  type DecisionSort,
  decidedWords,
  decisionWords,
  hindranceText,
  isBooked,
} from './decisionText.ts'
import { useDecide } from './useDecide.ts'

interface DecidePaymentProps {
  readonly row: OneSidedRow
  readonly page: TieOutPage
  readonly onClose: () => void
}

const startOf = (as: DecisionSort, row: OneSidedRow): PaymentDecision => {
  const [first] = row.candidates
  switch (as) {
    case 'attached':
      return { as, to: { source: first?.source ?? '', lineId: first?.lineId ?? '' } }
    case 'written_off':
    case 'gift':
      return { as, account: '' }
    case 'own_test':
      return { as, account: asksForAccount(as, row) ? '' : null }
    case 'sale':
      return { as, account: '', taxCode: null }
    case 'waits':
      return { as, until: '' }
    default:
      return { as }
  }
}

/** What a payment is said to be, with what that asks for, and what it comes to before it is done. */
export const DecidePayment = ({ row, page, onClose }: DecidePaymentProps) => {
  const { locale } = useClient()
  const { decide, busy } = useDecide()
  const can = (as: DecisionSort): boolean =>
    (as !== 'attached' || row.candidates.length > 0) && (!isBooked(as) || row.hindered === null)
  // Where nothing is proposed, what is chosen first is what cannot be done by a press too many: it asks why.
  const first = row.proposed?.as ?? 'set_aside'
  const form = useSchemaForm(decidedPayment, {
    of: row.decide,
    amount: row.amount,
    decision: startOf(first, row),
    note: '',
  })
  const decision = form.watch('decision') as PaymentDecision
  const { errors } = form.formState
  const change = (next: PaymentDecision): void => {
    form.setValue('decision', next, { shouldDirty: true, shouldValidate: form.formState.isSubmitted })
  }
  const store = form.handleSubmit(done =>
    decide([done], () => {
      onClose()
    }),
  )
  const { currency, order, lineId } = row.other ?? row.line
  const amount = `${currencySign(currency)} ${amountText(row.amount, currency, locale)}`
  return (
    <Modal
      open
      onSubmit={() => void store()}
      changed={form.formState.isDirty}
      wide
      title={`Decide ${order ?? lineId}, ${amount}`}
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={busy}>
            Decide: {decidedWords[decision.as]}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Choices
          label="What it is"
          value={decision.as}
          choices={row.acts.map(as => ({
            value: as,
            text: decisionWords[as],
            disabled: !can(as),
            detail:
              as === 'attached' && row.candidates.length === 0
                ? 'nothing open fits it'
                : isBooked(as) && row.hindered !== null
                  ? hindranceText[row.hindered]
                  : undefined,
          }))}
          onChange={as => change(startOf(as, row))}
        />
        {decision.as === 'attached' ? (
          <AttachChoice
            candidates={row.candidates}
            value={decision.to}
            onChange={to => change({ as: 'attached', to })}
          />
        ) : null}
        {'account' in decision && asksForAccount(decision.as, row) ? (
          <FormField label="Account" fault={faultOf(errors.decision, 'account')}>
            <Select
              w="100%"
              value={decision.account ?? ''}
              onChange={event => change({ ...decision, account: event.target.value })}
            >
              <option value="">which account …</option>
              {page.accounts.map(one => (
                <option key={one.code} value={one.code}>
                  {one.code} {one.name}
                </option>
              ))}
            </Select>
          </FormField>
        ) : null}
        {decision.as === 'sale' ? (
          <FormField label="Tax" hint="taken out of the amount">
            <Select
              w="100%"
              value={decision.taxCode ?? ''}
              onChange={event => change({ ...decision, taxCode: event.target.value || null })}
            >
              <option value="">no tax</option>
              {page.taxCodes.map(one => (
                <option key={one.code} value={one.code}>
                  {one.code} {one.name}
                </option>
              ))}
            </Select>
          </FormField>
        ) : null}
        {decision.as === 'waits' ? (
          <FormField
            label="Until"
            hint="after this day it is listed again"
            fault={errors.decision ? 'Say a day that is still to come.' : null}
          >
            <DateInput value={decision.until} onChange={until => change({ as: 'waits', until })} />
          </FormField>
        ) : null}
        <FormField
          label={decision.as === 'set_aside' ? 'Why' : 'Note'}
          fault={errors.note?.message}
          hint={decision.as === 'set_aside' ? undefined : 'if any'}
        >
          <Input w="100%" {...form.register('note')} />
        </FormField>
        <Box borderTopWidth="1px" borderColor="hairline" pt="8px">
          <chakra.p color="muted" textStyle="small" style={{ margin: 0 }}>
            {consequenceText(row, decision.as, { today: page.today, locale })}
          </chakra.p>
        </Box>
      </Flex>
    </Modal>
  )
}

/** What is wrong with a part of the decision, whichever its sort. */
const faultOf = (errors: object | undefined, name: string): string | null => {
  const found: unknown = errors && name in errors ? (errors as Record<string, unknown>)[name] : null
  return typeof found === 'object' && found !== null && 'message' in found ? String(found.message) : null
}
