// @vitest-environment happy-dom
import { type AccountRow, mappingEndpoints, newAccount } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { AccountPicker } from './AccountPicker.tsx'

afterEach(cleanup)

/** Written in at once: letters one by one come here before what the one before changed is drawn, as in no browser. */
const typeIn = async (field: HTMLElement, text: string): Promise<void> => {
  await userEvent.click(field)
  await userEvent.paste(text)
}
const typing = userEvent.setup({ delay: 20 })

const account = (code: string, name: string, type: string, archived = false): AccountRow => ({
  code,
  name,
  type,
  currency: 'EUR',
  archived,
  takesPayments: false,
  bankNumber: null,
})
const accounts = [
  account('1000', 'Bank', 'bank'),
  account('4000', 'Sales, tableware', 'income'),
  account('4010', 'Sales, glaze kits', 'income'),
  account('4090', 'Sales of old', 'income', true),
  account('6000', 'Sales commission', 'expense'),
]
const Picked = ({
  onChange,
  onOther,
}: {
  readonly onChange: (code: string) => void
  readonly onOther: (key: string) => void
}) => {
  const [value, setValue] = useState<string | null>('4010')
  return (
    <AccountPicker
      label="Account for Sale"
      kind="sale"
      accounts={accounts}
      value={value}
      onChange={code => {
        setValue(code)
        onChange(code)
      }}
      others={[{ key: 'KIT-1', title: 'Starter glaze kit', detail: 'item' }]}
      onOther={onOther}
    />
  )
}
const drawn = () => {
  const server = stubServer()
  const [onChange, onOther] = [vi.fn(), vi.fn()]
  drawPage(<Picked onChange={onChange} onOther={onOther} />, { path: '/', at: '/' })
  return { server, onChange, onOther, field: screen.getByRole('combobox', { name: 'Account for Sale' }) }
}
const offered = () => screen.queryAllByRole('option').map(one => one.textContent)

it('shows what is chosen, and offers what fits as one types, the kind’s usual types first', async () => {
  const { field, onChange } = drawn()
  expect(field).toHaveProperty('value', '4010 Sales, glaze kits')
  await typeIn(field, 'sales')
  await vi.waitFor(() =>
    expect(offered()).toEqual([
      '4000Sales, tablewareincome',
      '4010Sales, glaze kitsincome',
      '6000Sales commissionexpense',
      'Make an account “sales” …',
    ]),
  )
  await typing.keyboard('{ArrowDown}{ArrowDown}{Enter}')
  expect(onChange.mock.calls).toEqual([['6000']])
  await vi.waitFor(() => expect(field).toHaveProperty('value', '6000 Sales commission'))
})

it('a route can point to an item as well', async () => {
  const { field, onOther, onChange } = drawn()
  await typeIn(field, 'kit')
  await userEvent.click(await screen.findByRole('option', { name: /Starter glaze kit/ }))
  expect([onOther.mock.calls, onChange.mock.calls]).toEqual([[['KIT-1']], []])
})

it('leaves what was chosen where one goes away without taking any', async () => {
  const { field, onChange } = drawn()
  await typeIn(field, 'bank')
  await userEvent.keyboard('{Escape}')
  await vi.waitFor(() => expect(field).toHaveProperty('value', '4010 Sales, glaze kits'))
  expect(onChange).not.toHaveBeenCalled()
})

it('makes a missing account under the name that was typed, and takes it; by Enter alone none is made', async () => {
  const { server, field, onChange } = drawn()
  const made = server.answers(mappingEndpoints.addAccounts, {})
  await typeIn(field, 'Gift wrap')
  await vi.waitFor(() => expect(offered()).toEqual(['Make an account “Gift wrap” …']))
  await typing.keyboard('{Enter}')
  expect(screen.queryByRole('dialog')).toBeNull()
  expect(onChange).not.toHaveBeenCalled()
  await userEvent.click(field)
  await typeIn(field, 'Gift wrap')
  await vi.waitFor(() => expect(offered()).toEqual(['Make an account “Gift wrap” …']))
  await userEvent.click(screen.getByRole('option'))
  const dialog = await screen.findByRole('dialog', { name: 'Make an account' }, { timeout: 10_000 })
  expect(within(dialog).getByLabelText('Name')).toHaveProperty('value', 'Gift wrap')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Make account' }))
  await vi.waitFor(() => expect(made).toHaveLength(1))
  const [request] = made
  expect(request?.body).toMatchObject({ name: 'Gift wrap', type: 'income' })
  const { code } = newAccount.parse(request?.body)
  await vi.waitFor(() => expect(onChange).toHaveBeenCalledWith(code))
})
