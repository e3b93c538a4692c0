import { Box, Flex, Input, Span } from '@chakra-ui/react'
import { bookEndpoints as at, type OpeningPage } from '@culvert/contract'
import { printAmount } from '@culvert/core'
import { type Control, useController, useWatch } from 'react-hook-form'
import type { z } from 'zod'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { DateField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { useWayBack } from '../ui/useWayBack.ts'
import { accountTypeText } from '../ui/words.ts'
import { useOpeningActs } from './bookQueries.ts'
import { OpeningListButton } from './OpeningListButton.tsx'
import { missingOf, openingForm, openingOf, type TypedLine } from './openingDraft.ts'

type Account = OpeningPage['accounts'][number]
interface Values {
  date: string
  typed: TypedLine[]
}
type OpeningControl = Control<Values, unknown, z.output<ReturnType<typeof openingForm>>>

/** Opening balances as they are entered: an amount for each account that holds something. */
export const OpeningForm = ({ page }: { readonly page: OpeningPage }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const { post } = useOpeningActs(clientId)
  const wayBack = useWayBack(clientId)
  const form = useSchemaForm(openingForm(page.base, locale), {
    date: page.before ?? '',
    typed: page.accounts.map(({ code }) => ({ account: code, debit: '', credit: '' })),
  })
  const { control } = form
  const [date = '', typed = []] = useWatch({ control, name: ['date', 'typed'] })
  const read = openingOf(typed, page.base, locale)
  const missing = missingOf(read) ?? (date === '' ? 'as at which day' : null)
  const fill = (balances: readonly { readonly account: string; readonly amount: number }[]) => {
    const amounts = new Map(balances.map(one => [one.account, one.amount]))
    const text = (minor: number) => (minor > 0 ? printAmount(minor, page.base, locale) : '')
    form.setValue(
      'typed',
      page.accounts.map(({ code }) => {
        const amount = amounts.get(code) ?? 0
        return { account: code, debit: text(amount), credit: text(-amount) }
      }),
      { shouldDirty: true },
    )
  }
  const store = form.handleSubmit(body =>
    post.mutate(body, {
      onError: notice.refuse,
      onSuccess: ({ number }) =>
        notice.say(
          `Posted as ${number}, dated ${dateText(body.date)}.`,
          wayBack('Take them back', async () => {
            await call(at.undoOpening, { client: clientId })
            return 'Taken back, with an entry of its own. They can be entered anew.'
          }),
        ),
    }),
  )
  return (
    <form onSubmit={event => void store(event)}>
      <Unsaved changed={form.formState.isDirty} what="the opening balances" />
      <Flex gap="14px" align="flex-end" mb="8px">
        <DateField control={control} name="date" label="As at" />
        <Span color="muted" textStyle="small" pb="7px">
          {page.before
            ? `The first movement is of the day after ${dateText(page.before)}.`
            : 'Nothing is booked so far: say the last day before the books begin.'}
        </Span>
        <Box ml="auto">
          <OpeningListButton onTake={fill} />
        </Box>
      </Flex>
      <SheetTable
        label="Opening balances"
        columns={columnsOf(page.accounts, control)}
        rows={page.accounts}
        rowKey={account => account.code}
        totals={{
          code: '',
          name: <Uneven debit={read.debit} credit={read.credit} />,
          debit: <Amount minor={read.debit} />,
          credit: <Amount minor={read.credit} />,
        }}
      />
      <Flex mt="12px" gap="12px" align="center">
        <Act right="post" type="submit" variant="solid" disabled={missing !== null || post.isPending}>
          {missing === null ? `Post 1 entry dated ${dateText(date)}` : 'Post opening balances'}
        </Act>
        <Span color="muted" textStyle="small">
          {missing ?? `${countText(read.lines.length, 'account')}, ${page.base}`}
        </Span>
      </Flex>
    </form>
  )
}

const Uneven = ({ debit, credit }: { readonly debit: number; readonly credit: number }) => (
  <>
    Total
    {debit === credit ? null : (
      <Span color="crimson">
        {' '}
        · {debit > credit ? 'debits' : 'credits'} are higher by <Amount minor={Math.abs(debit - credit)} />
      </Span>
    )}
  </>
)

const columnsOf = (accounts: readonly Account[], control: OpeningControl): readonly SheetColumn<Account>[] => {
  const side = (name: 'debit' | 'credit', head: string): SheetColumn<Account> => ({
    id: name,
    head,
    width: '160px',
    right: true,
    cell: account => (
      <TypedAmount
        control={control}
        name={`typed.${accounts.indexOf(account)}.${name}`}
        label={`${account.code} ${account.name}, ${name}`}
      />
    ),
  })
  return [
    { id: 'code', head: 'Account', width: '90px', mono: true, value: one => one.code, cell: one => one.code },
    { id: 'name', head: 'Name', value: one => one.name, cell: one => one.name },
    {
      id: 'type',
      head: 'Type',
      width: '190px',
      value: one => accountTypeText(one.type),
      cell: one => accountTypeText(one.type),
    },
    side('debit', 'Debit'),
    side('credit', 'Credit'),
  ]
}

interface TypedAmountProps {
  readonly control: OpeningControl
  readonly name: `typed.${number}.${'debit' | 'credit'}`
  readonly label: string
}

/** A cell in which an amount is typed. What stands in it is the form's, so that it stays when the row is not drawn. */
const TypedAmount = ({ control, name, label }: TypedAmountProps) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <>
      <Input
        h="26px"
        w="130px"
        textAlign="right"
        inputMode="decimal"
        aria-label={label}
        aria-invalid={fieldState.error ? true : undefined}
        aria-describedby={fieldState.error ? `${name}-fault` : undefined}
        {...field}
      />
      {fieldState.error ? (
        <Span id={`${name}-fault`} display="block" color="crimson" textStyle="small">
          ▲ {fieldState.error.message}
        </Span>
      ) : null}
    </>
  )
}
