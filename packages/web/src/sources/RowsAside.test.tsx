// @vitest-environment happy-dom
import { sourceEndpoints } from '@culvert/contract'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { MadeTable } from '../files/MadeTable.tsx'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { RowsAside } from './RowsAside.tsx'

afterEach(cleanup)

it('shows rows that were set aside, and takes it that one moves nothing', async () => {
  const server = stubServer()
  const row = { jobId: 'j', file: 'march.csv', row: 4, day: '2026-03-03', fields: { Order: 'A-3', Amount: 'twelve' } }
  server.answers(sourceEndpoints.rowsAside, { rows: [{ ...row, why: 'unread' }] })
  drawPage(<RowsAside source="openhall" />, { path: '/c/:client/sources/openhall', at: '/c/1/sources/openhall' })
  await screen.findByText(/1 row of its files still to be brought in/)
  expect(screen.getByText('Order A-3 · Amount twelve')).toBeTruthy()
  const said = server.answers(sourceEndpoints.sayOfRowAside, {})
  await userEvent.click(screen.getByRole('button', { name: 'It moves nothing' }))
  expect(said[0]?.body).toEqual({ jobId: 'j', row: 4, why: 'nothing' })
})

it('offers to set aside the rows that fail, and says why', async () => {
  const asked: unknown[] = []
  const fault = {
    row: 17,
    column: 'Amount',
    value: 'twelve',
    code: 'not_a_number_so_mapped',
    expected: 'a number',
  } as const
  const preview = { lacking: [], made: [], lines: 0, faults: [fault], faultCount: 1, words: [], sums: {} }
  drawPage(<MadeTable preview={preview} onAside={(row, why) => asked.push([row, why])} />, {
    path: '/c/:client/x',
    at: '/c/1/x',
  })
  await userEvent.selectOptions(screen.getByLabelText('Set row 17 aside'), 'unread')
  expect(asked).toEqual([[17, 'unread']])
})
