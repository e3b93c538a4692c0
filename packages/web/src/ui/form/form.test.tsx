// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { z } from 'zod'
import { draw } from '../../testing/draw.tsx'
import { Check } from './Check.tsx'
import { Choices } from './Choices.tsx'
import { sayFaultsPlainly } from './faultWords.ts'
import { AmountField, DateField, SelectField, TextField } from './fields.tsx'
import { useSchemaForm } from './useSchemaForm.ts'

afterEach(cleanup)
sayFaultsPlainly()

const schema = z.object({
  name: z.string().trim().min(1).max(8),
  on: z.iso.date(),
  amount: z.number().int(),
  sort: z.enum(['first', 'second']),
})

const Form = ({ onStore }: { readonly onStore: (value: z.output<typeof schema>) => void }) => {
  const form = useSchemaForm(schema, { name: '', on: '' })
  const { control } = form
  return (
    <form onSubmit={event => void form.handleSubmit(onStore)(event)}>
      <TextField control={control} name="name" label="Name" hint="as it is called" />
      <DateField control={control} name="on" label="On" />
      <AmountField control={control} name="amount" label="Amount" currency="EUR" />
      <SelectField control={control} name="sort" label="Sort">
        <option value="">choose</option>
        <option value="first">first</option>
        <option value="second">second</option>
      </SelectField>
      <button type="submit">Save</button>
    </form>
  )
}

const Some = ({ onChoose }: { readonly onChoose: (value: string) => void }) => {
  const [value, setValue] = useState('gift')
  const choose = (next: string) => {
    onChoose(next)
    setValue(next)
  }
  return (
    <Choices
      label="What it is"
      value={value}
      choices={[
        { value: 'gift', text: 'Gift' },
        { value: 'test', text: 'Our own test', detail: 'undone with its tax' },
        { value: 'sale', text: 'Sale', disabled: true },
      ]}
      onChange={choose}
    />
  )
}
const Taken = ({ onTake }: { readonly onTake: (taken: boolean, ranging: boolean) => void }) => {
  const [taken, setTaken] = useState(false)
  const take = (next: boolean, ranging: boolean) => {
    onTake(next, ranging)
    setTaken(next)
  }
  return <Check checked={taken} label="Take it" onChange={take} />
}

describe('a form', () => {
  it('names at each field what is wrong with it, keeps what was typed, and hands over what its schema makes of it', async () => {
    const onStore = vi.fn()
    const user = userEvent.setup()
    draw(<Form onStore={onStore} />)
    expect(screen.getByText('as it is called')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findAllByText('Fill this in.')).toHaveLength(2)
    expect(screen.getByText('Write a day, like 5 Mar 2026.')).toBeTruthy()
    expect(screen.getByText('Choose one of these.')).toBeTruthy()
    expect(onStore).not.toHaveBeenCalled()
    await user.type(screen.getByLabelText('Name'), ' Kiln and wheel ')
    expect(await screen.findByText('At most 8 letters.')).toBeTruthy()
    expect(screen.getByLabelText('Name')).toHaveProperty('value', ' Kiln and wheel ')
    await user.clear(screen.getByLabelText('Name'))
    await user.type(screen.getByLabelText('Name'), ' Kiln ')
    await user.type(screen.getByLabelText('On'), '5 Mar 2026')
    await user.type(screen.getByLabelText('Amount'), '12,x')
    expect(await screen.findByText(/^An amount in EUR, like/)).toBeTruthy()
    await user.clear(screen.getByLabelText('Amount'))
    await user.type(screen.getByLabelText('Amount'), '1,200+35.50')
    await user.selectOptions(screen.getByLabelText('Sort'), 'second')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await vi.waitFor(() => expect(onStore).toHaveBeenCalled())
    expect(onStore.mock.calls[0]?.[0]).toEqual({ name: 'Kiln', on: '2026-03-05', amount: 123_550, sort: 'second' })
  })
})

describe('a choice', () => {
  it('of one among a few is made by pressing its line, and not where it cannot be', async () => {
    const chosen: string[] = []
    draw(<Some onChoose={next => chosen.push(next)} />)
    await userEvent.click(screen.getByRole('radio', { name: /Our own test/ }))
    await userEvent.click(screen.getByRole('radio', { name: 'Sale' }))
    expect(chosen).toEqual(['test'])
    expect(screen.getByRole('radio', { name: /Our own test/ })).toHaveProperty('checked', true)
  })
  it('of yes or no tells whether shift was held', async () => {
    const told = vi.fn()
    const user = userEvent.setup()
    draw(<Taken onTake={told} />)
    await user.click(screen.getByRole('checkbox', { name: 'Take it' }))
    await user.keyboard('{Shift>}')
    await user.click(screen.getByRole('checkbox', { name: 'Take it' }))
    await user.keyboard('{/Shift}')
    expect(told.mock.calls).toEqual([
      [true, false],
      [false, true],
    ])
  })
})
