// @vitest-environment happy-dom
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, describe, expect, it } from 'vitest'
import { draw } from '../../testing/draw.tsx'
import type { SheetColumn } from './column.ts'
import { SheetTable } from './SheetTable.tsx'

afterEach(cleanup)

interface Row {
  readonly name: string
  readonly on: string
  readonly amount: number
}
const rows: readonly Row[] = [
  { name: 'OH-1', on: '2026-03-05', amount: 123_010 },
  { name: 'OH-2', on: '2026-03-12', amount: -590 },
  { name: 'OH-3', on: '2026-04-02', amount: 4_000 },
  { name: 'OH-4', on: '2026-04-09', amount: 10_000 },
]
const columns: readonly SheetColumn<Row>[] = [
  { id: 'name', head: 'Settlement', cell: row => row.name, value: row => row.name },
  { id: 'on', head: 'On', cell: row => row.on, value: row => row.on },
  {
    id: 'amount',
    head: 'Gross',
    right: true,
    cell: row => row.amount,
    money: row => ({ minor: row.amount, currency: 'EUR' }),
  },
]
const Settlements = () => {
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  return (
    <SheetTable
      label="Settlements"
      columns={columns}
      rows={rows}
      rowKey={row => row.name}
      to={row => `/settlements/${row.name}`}
      selected={selected}
      onSelect={setSelected}
      selectable={row => row.name !== 'OH-2'}
      empty="Settlements appear here."
    />
  )
}
const names = () =>
  screen
    .getAllByRole('row')
    .flatMap(row => within(row).queryAllByRole('link'))
    .map(link => link.textContent)

describe('a table', () => {
  it('finds amounts and dates as they are written', async () => {
    draw(<Settlements />)
    const filter = screen.getByRole('textbox', { name: 'Filter Settlements' })
    for (const [typed, found] of [
      ['1,230.10', ['OH-1']],
      ['1230.1', ['OH-1']],
      ['-5.9', ['OH-2']],
      ['Apr', ['OH-3', 'OH-4']],
      ['12 mar', ['OH-2']],
    ] as const) {
      await userEvent.clear(filter)
      await userEvent.type(filter, typed)
      expect(names(), typed).toEqual(found)
    }
    await userEvent.type(filter, 'x')
    expect(screen.getByText('Nothing here contains “12 marx”.')).toBeTruthy()
  })

  it('is taken from its address: sorting and hidden columns', async () => {
    draw(<Settlements />, '/?sort=-amount&hide=on')
    expect(names()).toEqual(['OH-1', 'OH-4', 'OH-3', 'OH-2'])
    expect(screen.queryByRole('columnheader', { name: /On/ })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Columns of Settlements' }))
    const on = await screen.findByRole('menuitemcheckbox', { name: /On/ }, { timeout: 10_000 })
    await userEvent.click(on)
    expect(await screen.findByRole('columnheader', { name: /On/, hidden: true })).toBeTruthy()
    await userEvent.keyboard('{Escape}')
    await userEvent.click(screen.getByRole('button', { name: /Gross/ }))
    expect(names()).toEqual(['OH-1', 'OH-2', 'OH-3', 'OH-4'])
  })

  it('selects a range by shift, leaves out what cannot be, and adds it up', async () => {
    const user = userEvent.setup()
    draw(<Settlements />)
    await user.click(screen.getByRole('checkbox', { name: 'Select OH-1' }))
    await user.keyboard('{Shift>}')
    await user.click(screen.getByRole('checkbox', { name: 'Select OH-4' }))
    await user.keyboard('{/Shift}')
    const sums = screen.getByRole('row', { name: 'Selected' })
    expect(sums.textContent).toContain('3 selected')
    expect(sums.textContent).toContain('1,370.10')
    await user.click(screen.getByRole('checkbox', { name: 'Select all shown' }))
    expect(screen.queryByRole('row', { name: 'Selected' })).toBeNull()
  })

  it('its rows lead on by a link, which can be opened elsewhere', () => {
    draw(<Settlements />)
    expect(screen.getByRole('link', { name: 'OH-3' }).getAttribute('href')).toBe('/settlements/OH-3')
  })
})
