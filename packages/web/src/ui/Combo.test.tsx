// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, it, vi } from 'vitest'
import { draw } from '../testing/draw.tsx'
import { Combo } from './Combo.tsx'

afterEach(cleanup)

/** Written in at once: letters one by one come here before what the one before changed is drawn, as in no browser. */
const typeIn = async (field: HTMLElement, text: string): Promise<void> => {
  await userEvent.click(field)
  await userEvent.paste(text)
}

const glazes = ['Ash glaze', 'Celadon', 'Tenmoku']
const Glazes = ({ onTake, first }: { readonly onTake: (value: string) => void; readonly first?: null }) => {
  const [text, setText] = useState<string | null>(null)
  const fitting = glazes.filter(one => one.toLowerCase().includes((text ?? '').toLowerCase()))
  return (
    <Combo
      label="Glaze"
      placeholder="Type to search"
      choices={text === null ? [] : fitting.map(value => ({ value, title: value, content: value }))}
      first={first === null ? null : (fitting[0] ?? null)}
      text={text ?? 'Celadon'}
      onText={setText}
      open={text !== null}
      onOpen={open => setText(open ? (text ?? '') : null)}
      onTake={value => {
        onTake(value)
        setText(null)
      }}
      empty="No such glaze."
      listWidth="200px"
    />
  )
}
const field = () => screen.getByRole('combobox', { name: 'Glaze' })

it('opens as one comes to it, and Enter takes the first that fits', async () => {
  const onTake = vi.fn()
  draw(<Glazes onTake={onTake} />)
  expect(field()).toHaveProperty('value', 'Celadon')
  await userEvent.click(field())
  expect((await screen.findAllByRole('option')).map(one => one.textContent)).toEqual(glazes)
  await typeIn(field(), 'te')
  await vi.waitFor(() => expect(screen.getAllByRole('option')).toHaveLength(1))
  await userEvent.keyboard('{Enter}')
  expect(onTake.mock.calls).toEqual([['Tenmoku']])
})

it('arrows go on from the first, and Escape leaves what was chosen', async () => {
  const onTake = vi.fn()
  draw(<Glazes onTake={onTake} />)
  await userEvent.click(field())
  await screen.findAllByRole('option')
  await userEvent.keyboard('{ArrowDown}{Enter}')
  expect(onTake.mock.calls).toEqual([['Celadon']])
  await userEvent.clear(field())
  await typeIn(field(), 'x')
  expect(await screen.findByText('No such glaze.')).toBeTruthy()
  await userEvent.keyboard('{Escape}')
  await vi.waitFor(() => expect(field()).toHaveProperty('value', 'Celadon'))
  expect(onTake).toHaveBeenCalledTimes(1)
})

it('where nothing is taken without being pointed at, Enter takes nothing', async () => {
  const onTake = vi.fn()
  draw(<Glazes onTake={onTake} first={null} />)
  await userEvent.click(field())
  await screen.findAllByRole('option')
  await userEvent.keyboard('{Enter}')
  expect(onTake).not.toHaveBeenCalled()
})
