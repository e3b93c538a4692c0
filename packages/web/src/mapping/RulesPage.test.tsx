// @vitest-environment happy-dom
import { type RulesPage as Facts, mappingEndpoints, type RuleBody } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { RulesPage } from './RulesPage.tsx'

afterEach(cleanup)

const rule = (id: number, value: string): RuleBody => ({
  id,
  conditions: [{ field: 'description', is: 'containing', value }],
  actions: [{ set: 'segment', name: 'range', value }],
})
const facts = (rules: RuleBody[], version = 4): Facts => ({
  currency: 'EUR',
  from: '2026-03-23',
  to: '2026-06-21',
  version,
  rules,
  touched: rules.map(({ id }) => ({ id, met: id * 10, decides: id, amount: id * 1000 })),
  accounts: [
    {
      code: '4010',
      name: 'Sales, glaze kits',
      type: 'income',
      currency: 'EUR',
      archived: false,
      takesPayments: false,
      bankNumber: null,
    },
  ],
  taxCodes: [],
})
const drawn = async (rules: RuleBody[]) => {
  const server = stubServer()
  const touched = server.answers(mappingEndpoints.touchedByRules, ({ body }) => ({
    touched: (body as { rules: RuleBody[] }).rules.map(({ id }) => ({ id, met: 7, decides: 5, amount: 12_300 })),
  }))
  server.answers(mappingEndpoints.rules, facts(rules))
  drawPage(<RulesPage />, { path: '/c/1/mapping/rules', at: '/c/1/mapping/rules' })
  await screen.findByRole('table', { name: 'Rules' })
  return { server, touched }
}
const sentences = () =>
  within(screen.getByRole('table', { name: 'Rules' }))
    .getAllByRole('row')
    .flatMap(row => /contains “(\w+)”/.exec(row.textContent ?? '')?.[1] ?? [])

it('a rule is written with each part that is missing named, and reads as a sentence with what it touches', async () => {
  const { server } = await drawn([])
  const saved = server.answers(mappingEndpoints.saveRules, { version: 5 })
  await userEvent.click(screen.getByRole('button', { name: 'Add a rule' }))
  const dialog = await screen.findByRole('dialog', { name: 'Add a rule' })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Done' }))
  await vi.waitFor(() =>
    expect(
      within(dialog)
        .getAllByRole('alert')
        .map(one => one.textContent),
    ).toEqual(['▲ What must it say?', '▲ To what?']),
  )
  await userEvent.type(within(dialog).getByLabelText('Condition 1, value'), 'glaze')
  await userEvent.selectOptions(within(dialog).getByLabelText('Action 1, account'), '4010')
  expect(await within(dialog).findByText(/When the description contains “glaze”/)).toBeTruthy()
  expect(await within(dialog).findByText(/Touches 7 lines/)).toBeTruthy()
  await userEvent.click(within(dialog).getByRole('button', { name: 'Done' }))
  await vi.waitFor(() => expect(sentences()).toEqual(['glaze']))
  await userEvent.keyboard('{Control>}s{/Control}')
  await vi.waitFor(() => expect(saved).toHaveLength(1))
  expect(saved[0]?.body).toEqual({
    rules: [
      {
        id: 1,
        conditions: [{ field: 'description', is: 'containing', value: 'glaze' }],
        actions: [{ set: 'account', account: '4010' }],
      },
    ],
    version: 4,
  })
})

it('rules are moved in the order they are asked in, and saving that was refused loses nothing', async () => {
  const { server } = await drawn([rule(1, 'glaze'), rule(2, 'clay')])
  server.refuses(mappingEndpoints.saveRules, 409, 'Somebody saved meanwhile.')
  const row = screen.getByRole('row', { name: /clay/ })
  expect(within(row).getByRole('button', { name: 'Down' })).toHaveProperty('disabled', true)
  await userEvent.click(within(row).getByRole('button', { name: 'Up' }))
  expect(sentences()).toEqual(['clay', 'glaze'])
  await userEvent.click(screen.getByRole('button', { name: 'Save rules' }))
  expect((await screen.findByRole('alert')).textContent).toContain('Somebody saved meanwhile.')
  expect(sentences()).toEqual(['clay', 'glaze'])
  await userEvent.click(screen.getByRole('button', { name: 'Discard' }))
  expect(sentences()).toEqual(['glaze', 'clay'])
})

it('a choice of conditions goes with its last condition, and asks for no more than it has', async () => {
  await drawn([])
  await userEvent.click(screen.getByRole('button', { name: 'Add a rule' }))
  const dialog = await screen.findByRole('dialog', { name: 'Add a rule' })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Add a choice of conditions' }))
  const many = within(dialog).getByLabelText('Group 1, how many must hold')
  await userEvent.selectOptions(many, '2')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Remove Group 1, condition 2' }))
  await vi.waitFor(() => expect(many).toHaveProperty('value', '1'))
  await userEvent.click(within(dialog).getByRole('button', { name: 'Remove Group 1, condition 1' }))
  await vi.waitFor(() => expect(within(dialog).queryByLabelText('Group 1, how many must hold')).toBeNull())
})

it('what a rule touches opens to the lines that it meets, as it stands there unsaved', async () => {
  const { server } = await drawn([rule(1, 'glaze'), rule(2, 'clay')])
  const asked = server.answers(mappingEndpoints.ruleLines, { lines: [], total: 20, sum: 2000 })
  await userEvent.click(within(screen.getByRole('row', { name: /clay/ })).getByRole('button', { name: /^Open/ }))
  expect(await screen.findByText(/20 lines, the first 0 shown/)).toBeTruthy()
  expect(asked[0]?.body).toEqual({ rule: rule(2, 'clay') })
  await userEvent.click(screen.getByRole('button', { name: 'Back to the rules' }))
  expect(screen.queryByText(/20 lines/)).toBeNull()
  expect(sentences()).toEqual(['glaze', 'clay'])
})
