// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, it, vi } from 'vitest'
import { draw } from '../testing/draw.tsx'
import { DateInput } from './DateInput.tsx'

afterEach(cleanup)
const told = vi.fn()
const Dated = () => {
  const [date, setDate] = useState('2026-03-05')
  return (
    <DateInput
      aria-label="Decided on"
      value={date}
      onChange={next => {
        told(next)
        setDate(next)
      }}
    />
  )
}
const field = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'Decided on' })

it('shows a date as people read it, and takes it as they type it', async () => {
  draw(<Dated />)
  expect(field().value).toBe('5 Mar 2026')
  await userEvent.clear(field())
  await userEvent.type(field(), '7/4/26')
  // Of two digits it is not known yet whether more come.
  expect(told.mock.lastCall).toEqual([''])
  await userEvent.tab()
  expect(told.mock.lastCall).toEqual(['2026-04-07'])
  expect(field().value).toBe('7 Apr 2026')
})

it('a day of which one digit is typed is no day yet', async () => {
  draw(<Dated />)
  await userEvent.clear(field())
  told.mockClear()
  await userEvent.type(field(), '2026-03-17')
  expect(told.mock.calls).toEqual([['2026-03-17']])
})

it('what is no date stays as it was typed, and says so', async () => {
  draw(<Dated />)
  told.mockClear()
  await userEvent.clear(field())
  await userEvent.type(field(), '31 Feb 2026')
  await userEvent.tab()
  expect([field().value, field().getAttribute('aria-invalid')]).toEqual(['31 Feb 2026', 'true'])
  expect(told.mock.calls).toEqual([['']])
  await userEvent.clear(field())
  await userEvent.type(field(), '28 Feb 2026')
  expect([told.mock.lastCall, field().getAttribute('aria-invalid')]).toEqual([['2026-02-28'], null])
})

it('is chosen in a calendar, whose weeks begin on Monday', async () => {
  draw(<Dated />)
  await userEvent.click(screen.getByRole('button', { name: 'Choose the date in a calendar' }))
  const day = await screen.findByRole('button', { name: /March 17th, 2026/ }, { timeout: 10_000 })
  expect(document.querySelector('th')?.textContent).toBe('Mo')
  await userEvent.click(day)
  expect(told.mock.lastCall).toEqual(['2026-03-17'])
  expect(field().value).toBe('17 Mar 2026')
})
