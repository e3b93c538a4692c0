// @vitest-environment happy-dom
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { Route, Routes, useNavigate } from 'react-router'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { type PartOf, usePages } from '../../context/usePages.ts'
import { draw } from '../../testing/draw.tsx'
import type { SheetColumn } from './column.ts'
import { SheetTable } from './SheetTable.tsx'
import { useKeptSelection } from './useKeptSelection.ts'

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
const nameOf = (row: Row): string => row.name
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
const parts = [
  { rows: rows.slice(0, 2), more: true },
  { rows: rows.slice(1, 3), more: true },
  { rows: rows.slice(3), more: false },
]
const Parts = ({ load }: { readonly load: (part: PartOf) => Promise<(typeof parts)[number]> }) => {
  const list = usePages({ queryKey: ['list'], load, rowKey: nameOf })
  return (
    <SheetTable
      label="Parts"
      columns={columns}
      rows={list.rows}
      rowKey={nameOf}
      to={row => `/${row.name}`}
      more={list.more}
      onMore={list.loadMore}
      arranged={list.arranged}
    />
  )
}
const many = Array.from({ length: 200 }, (_, at): Row => ({ name: `T-${at}`, on: '2026-01-01', amount: at }))
const Chosen = () => {
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const list = usePages({
    queryKey: ['chosen'],
    load: ({ filter }: PartOf) =>
      Promise.resolve(filter ? { rows: rows.slice(3), more: false } : { rows: many, more: true }),
    rowKey: nameOf,
  })
  return (
    <SheetTable
      label="Chosen"
      columns={columns}
      rows={list.rows}
      known={list.known}
      arranged={list.arranged}
      more={list.more}
      rowKey={nameOf}
      to={row => `/${row.name}`}
      selected={selected}
      onSelect={setSelected}
    />
  )
}
const Kept = () => {
  const [selected, setSelected] = useKeptSelection()
  return (
    <SheetTable
      label="Kept"
      columns={columns}
      rows={rows}
      rowKey={nameOf}
      to={row => `/away/${row.name}`}
      selected={selected}
      onSelect={setSelected}
    />
  )
}
const Away = () => {
  const navigate = useNavigate()
  return (
    <button type="button" onClick={() => void navigate(-1)}>
      Back
    </button>
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

  it('fetches on as one comes near the end, and shows what came twice once', async () => {
    const asked: number[] = []
    const load = ({ offset }: PartOf) => {
      asked.push(offset)
      return Promise.resolve(parts[asked.length - 1] ?? { rows: [], more: false })
    }
    draw(<Parts load={load} />)
    expect(await screen.findByRole('link', { name: 'OH-4' })).toBeTruthy()
    expect(asked).toEqual([0, 2, 4])
    expect(names()).toEqual(['OH-1', 'OH-2', 'OH-3', 'OH-4'])
    expect(screen.queryByText(/more on the way/)).toBeNull()
  })

  it('has the server sort and filter what is not all here, once one stops typing', async () => {
    const asked: unknown[] = []
    const load = ({ sort, filter, offset }: PartOf) => {
      if (sort || filter) asked.push([sort, filter, offset])
      return Promise.resolve(sort || filter ? { rows: rows.slice(3), more: false } : { rows: many, more: true })
    }
    draw(<Parts load={load} />, '/?sort=-amount')
    await vi.waitFor(() => expect(names()).toEqual(['OH-4']))
    await userEvent.type(screen.getByRole('textbox', { name: 'Filter Parts' }), 'OH-')
    await vi.waitFor(() => expect(asked.at(-1)).toEqual(['-amount', 'OH-', 0]))
    expect(asked[0]).toEqual(['-amount', undefined, 0])
    expect(asked.length).toBeLessThan(4)
  })

  it('what was selected of a part that came for a filter is so still without it', async () => {
    draw(<Chosen />)
    const filter = screen.getByRole('textbox', { name: 'Filter Chosen' })
    await userEvent.type(filter, 'OH-4')
    await userEvent.click(await screen.findByRole('checkbox', { name: 'Select OH-4' }))
    await userEvent.clear(filter)
    await vi.waitFor(() => expect(screen.queryByRole('checkbox', { name: 'Select OH-4' })).toBeNull())
    await new Promise(done => setTimeout(done, 300))
    expect(screen.getByRole('row', { name: 'Selected' }).textContent).toContain('1 selected')
  })

  it('asks nobody to sort and filter what is all here', async () => {
    const load = vi.fn((_: PartOf) => Promise.resolve({ rows: [...rows], more: false }))
    draw(<Parts load={load} />, '/?sort=amount&q=OH')
    await screen.findByRole('link', { name: 'OH-4' })
    await new Promise(done => setTimeout(done, 300))
    expect(load).toHaveBeenCalledTimes(1)
  })

  it('what was selected is so still when one comes back to it', async () => {
    draw(
      <Routes>
        <Route path="/" element={<Kept />} />
        <Route path="/away/:name" element={<Away />} />
      </Routes>,
    )
    await userEvent.click(screen.getByRole('checkbox', { name: 'Select OH-3' }))
    await userEvent.click(screen.getByRole('link', { name: 'OH-1' }))
    await userEvent.click(screen.getByRole('button', { name: 'Back' }))
    expect(screen.getByRole('checkbox', { name: 'Select OH-3' })).toHaveProperty('checked', true)
    expect(screen.getByRole('checkbox', { name: 'Select OH-1' })).toHaveProperty('checked', false)
  })

  it('of a page’s second table the address is its own', () => {
    draw(
      <>
        <SheetTable label="One" columns={columns} rows={rows} rowKey={nameOf} to={row => `/${row.name}`} />
        <SheetTable label="Two" scope="two-" columns={columns} rows={rows} rowKey={nameOf} />
      </>,
      '/?two-sort=-name&q=OH-1',
    )
    const [one, two] = ['One', 'Two'].map(name => within(screen.getByRole('table', { name })).getAllByRole('row'))
    expect(one?.length).toBe(2)
    expect(two?.[1]?.textContent).toContain('OH-4')
  })
})
