// @vitest-environment happy-dom
import {
  jobEndpoints,
  personalDataEndpoints,
  type SourceOptionsPage,
  sourceEndpoints,
  sourceOptions,
} from '@culvert/contract'
import { defaultOptions } from '@culvert/core'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { OptionsPage } from './OptionsPage.tsx'

afterEach(cleanup)

const page: SourceOptionsPage = {
  version: 4,
  options: sourceOptions.parse({ ...defaultOptions, detail: ['category'], taxTolerance: 1250 }),
  posted: 3,
  payables: [{ code: '2100', name: 'Suppliers' }],
}
const drawn = async () => {
  const server = stubServer()
  server.answers(sourceEndpoints.options, page)
  server.answers(sourceEndpoints.sources, { sources: [] })
  server.answers(jobEndpoints.jobs, { jobs: [] })
  server.answers(personalDataEndpoints.personalOfSource, { scope: 'all', persons: 0, names: 0, more: 0, erased: 0 })
  const { here } = drawPage(<OptionsPage />, {
    path: '/c/1/sources/:source/options',
    at: '/c/1/sources/openhall/options',
  })
  await screen.findByRole('region', { name: 'Options' })
  return { server, here }
}
const save = () => screen.getByRole('button', { name: /^Save/ })

it('shows what stands with the client’s marks, and says why nothing can be saved yet', async () => {
  await drawn()
  expect(screen.getByLabelText('Tax may differ by')).toHaveProperty('value', '12.50')
  expect(save()).toHaveProperty('disabled', true)
  expect(screen.getByText('nothing is changed')).toBeTruthy()
  expect(screen.getByLabelText('An entry for each month')).toHaveProperty('disabled', true)
  expect(screen.getAllByText('3 settlements of it posted: take them back first')).toHaveLength(2)
})

it('names at the field what is no amount, saves nothing, and takes a sum', async () => {
  const { server } = await drawn()
  const saved = server.answers(sourceEndpoints.saveOptions, { version: 5, counted: 0 })
  const tolerance = screen.getByLabelText('Tax may differ by')
  await userEvent.clear(tolerance)
  await userEvent.type(tolerance, 'a lot')
  await userEvent.click(save())
  expect((await screen.findByRole('alert')).textContent).toContain('An amount in EUR')
  await userEvent.clear(tolerance)
  await userEvent.type(tolerance, '-1')
  await userEvent.click(save())
  await vi.waitFor(() => expect(screen.getByRole('alert').textContent).toContain('At least 0.'))
  expect(saved).toEqual([])
  await userEvent.clear(tolerance)
  await userEvent.type(tolerance, '0.50+0.25')
  await userEvent.click(screen.getByLabelText('SKU'))
  await userEvent.click(screen.getByRole('button', { name: 'Save 2 options' }))
  await vi.waitFor(() => expect(saved).toHaveLength(1))
  expect(saved[0]?.body).toMatchObject({ version: 4, options: { taxTolerance: 75, detail: ['category', 'sku'] } })
})

it('what is typed survives a server that is gone, and is given up by Discard alone', async () => {
  const { server } = await drawn()
  server.isGone(sourceEndpoints.saveOptions)
  await userEvent.selectOptions(screen.getByLabelText('Stock bought is owed on'), '2100')
  const tolerance = screen.getByLabelText('Tax may differ by')
  await userEvent.clear(tolerance)
  await userEvent.type(tolerance, '3')
  await userEvent.click(save())
  expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer')
  expect(tolerance).toHaveProperty('value', '3')
  await userEvent.click(screen.getByRole('button', { name: 'Discard' }))
  await vi.waitFor(() => expect(screen.getByLabelText('Tax may differ by')).toHaveProperty('value', '12.50'))
  expect(screen.getByLabelText('Stock bought is owed on')).toHaveProperty('value', '')
  expect(save()).toHaveProperty('disabled', true)
})
