// @vitest-environment happy-dom
import { Button, Input } from '@chakra-ui/react'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, it, vi } from 'vitest'
import { draw } from '../testing/draw.tsx'
import { Modal } from './Modal.tsx'

afterEach(cleanup)

const Written = ({ onSubmit, onClose, onOuter }: Record<'onSubmit' | 'onClose' | 'onOuter', () => void>) => {
  const [text, setText] = useState('')
  return (
    <form onSubmit={onOuter}>
      <Modal
        open
        title="Write it"
        onSubmit={onSubmit}
        onClose={onClose}
        changed={text !== ''}
        foot={
          <Button type="submit" variant="solid">
            Save
          </Button>
        }
      >
        <Input aria-label="Text" value={text} onChange={event => setText(event.target.value)} />
      </Modal>
    </form>
  )
}
const drawn = () => {
  const acts = { onSubmit: vi.fn(), onClose: vi.fn(), onOuter: vi.fn() }
  draw(<Written {...acts} />)
  return acts
}

it('Enter in a field does what its main button does, and nothing in the form around it', async () => {
  const acts = drawn()
  await userEvent.type(await screen.findByRole('textbox', { name: 'Text' }), 'glaze{Enter}')
  expect([acts.onSubmit.mock.calls.length, acts.onOuter.mock.calls.length]).toEqual([1, 0])
})

it('Escape closes it; where something was written it asks first', async () => {
  const acts = drawn()
  const field = await screen.findByRole('textbox', { name: 'Text' })
  await userEvent.type(field, 'glaze')
  await userEvent.keyboard('{Escape}')
  expect(acts.onClose).not.toHaveBeenCalled()
  await userEvent.click(await screen.findByRole('button', { name: 'Go on writing' }))
  expect(screen.queryByText('What was written here is not saved.')).toBeNull()
  expect(field).toHaveProperty('value', 'glaze')
  await userEvent.keyboard('{Escape}')
  await userEvent.click(await screen.findByRole('button', { name: 'Discard' }))
  expect(acts.onClose).toHaveBeenCalledTimes(1)
})

it('Escape pressed again takes the question back, and loses nothing', async () => {
  const acts = drawn()
  await userEvent.type(await screen.findByRole('textbox', { name: 'Text' }), 'glaze')
  await userEvent.keyboard('{Escape}')
  expect(await screen.findByText('What was written here is not saved.')).toBeTruthy()
  await userEvent.keyboard('{Escape}')
  await vi.waitFor(() => expect(screen.queryByText('What was written here is not saved.')).toBeNull())
  expect(acts.onClose).not.toHaveBeenCalled()
})

it('Escape closes at once what nothing was written in', async () => {
  const acts = drawn()
  await screen.findByRole('textbox', { name: 'Text' })
  await userEvent.keyboard('{Escape}')
  expect(acts.onClose).toHaveBeenCalledTimes(1)
})
