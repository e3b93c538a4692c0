// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { draw } from '../testing/draw.tsx'
import { useKey } from './keys.ts'
import { switchSingleKeys, useKeysOfPage } from './keysOfPage.ts'

const acted = vi.fn()
const KeyedPage = () => {
  useKey('p', 'post', () => acted('p'))
  useKey('space', 'select', () => acted('space'))
  useKey('enter', 'open', () => acted('enter'))
  useKey('j, down', 'next', () => acted('j, down'))
  useKey('ctrl+s', 'save', () => acted('ctrl+s'))
  const keys = useKeysOfPage()
  return (
    <>
      <p>
        {keys
          .map(key => key.keys)
          .sort()
          .join('; ')}
      </p>
      <button type="button">Set aside</button>
      <a href="#elsewhere">Elsewhere</a>
      <input type="checkbox" aria-label="Select" />
      <input aria-label="Filter" />
      <select aria-label="Month">
        <option>March</option>
      </select>
      <button type="button" data-page-keys="">
        A payout
      </button>
    </>
  )
}

beforeEach(() => {
  acted.mockClear()
  switchSingleKeys(true)
})
afterEach(cleanup)

describe('a key of the page', () => {
  const press = async (role: 'button' | 'link' | 'checkbox' | 'textbox' | 'combobox', name: string, keys: string) => {
    draw(<KeyedPage />)
    screen.getByRole(role, { name }).focus()
    await userEvent.keyboard(keys)
    return acted.mock.calls.map(([key]) => key)
  }
  it.each([
    ['button', 'Set aside', ' '],
    ['button', 'Set aside', '{Enter}'],
    ['link', 'Elsewhere', '{Enter}'],
    ['checkbox', 'Select', ' '],
    ['textbox', 'Filter', 'p j'],
    ['combobox', 'Month', '{ArrowDown}p'],
  ] as const)('is that of the %s %s where it uses %s itself', async (role, name, keys) => {
    expect(await press(role, name, keys)).toEqual([])
  })
  it.each([
    ['checkbox', 'Select', 'pj', ['p', 'j, down']],
    ['button', 'Set aside', 'p', ['p']],
    ['button', 'A payout', ' ', ['space']],
    ['textbox', 'Filter', '{Control>}s{/Control}', ['ctrl+s']],
  ] as const)('is the page’s while %s %s has the focus, for %s', async (role, name, keys, wanted) => {
    expect(await press(role, name, keys)).toEqual(wanted)
  })
  it('of one letter can be switched off, and is then told of no more', async () => {
    draw(<KeyedPage />)
    expect(screen.getByText('ctrl+s; enter; j down; p; space')).toBeTruthy()
    switchSingleKeys(false)
    expect(await screen.findByText('ctrl+s; down; enter; space')).toBeTruthy()
    await userEvent.keyboard('pj{ArrowDown}')
    expect(acted.mock.calls).toEqual([['j, down']])
  })
})
