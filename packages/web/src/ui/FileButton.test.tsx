// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { draw } from '../testing/draw.tsx'
import { FileButton } from './FileButton.tsx'
import { NoticeProvider } from './Notice.tsx'

afterEach(cleanup)

const file = (name: string) => new File(['a,b\n1,2\n'], name, { type: 'text/csv' })
const drawn = () => {
  const onFiles = vi.fn()
  draw(
    <NoticeProvider>
      <FileButton label="Bring in files" accept=".csv" multiple onFiles={onFiles} />
    </NoticeProvider>,
  )
  const names = () => onFiles.mock.calls.map(([files]) => files.map((one: File) => one.name))
  return { names, input: () => screen.getByLabelText('Bring in files') }
}

it('hands over what was chosen, and the same file again', async () => {
  const { names, input } = drawn()
  await userEvent.upload(input(), [file('june.csv'), file('july.csv')])
  await vi.waitFor(() => expect(names()).toEqual([['june.csv', 'july.csv']]))
  await userEvent.upload(input(), file('june.csv'))
  await vi.waitFor(() => expect(names()).toEqual([['june.csv', 'july.csv'], ['june.csv']]))
})
