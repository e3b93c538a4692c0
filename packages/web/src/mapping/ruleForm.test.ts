import { expect, it } from 'vitest'
import { blankCondition, type RuleDraft } from './ruleDraft.ts'
import { inputOf, ruleForm } from './ruleForm.ts'

const writing = { currency: 'EUR', locale: 'en-IE' }
const whole: RuleDraft = {
  id: 3,
  plain: [{ field: 'description', is: 'containing', value: 'glaze', high: '' }],
  groups: [],
  actions: [{ set: 'account', account: '4010' }],
}
const read = (draft: RuleDraft) => {
  const parsed = ruleForm(writing).safeParse(inputOf(draft))
  return parsed.success ? parsed.data : parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)
}

it('makes a rule of what is whole', () => {
  expect(read(whole)).toEqual({
    id: 3,
    conditions: whole.plain.map(({ high: _, ...one }) => one),
    actions: whole.actions,
  })
})

it('names each part that is not whole', () => {
  const amount = { field: 'amount', is: 'between', value: '10', high: 'much' } as const
  expect(
    read({
      ...whole,
      plain: [blankCondition, amount, { field: 'localDate', is: 'after', value: '', high: '' }],
      groups: [{ atLeast: 1, of: [{ field: 'kind', is: 'one_of', value: 'Sail', high: '' }] }],
      actions: [{ set: 'contact', contact: ' ' }],
    }),
  ).toEqual([
    'plain.0: What must it say?',
    'plain.1: An amount at each end.',
    'plain.2: Which day?',
    'groups.0.of.0: Which kinds, by their names?',
    'actions.0: To what?',
  ])
})

it('says what the whole lacks', () => {
  expect(read({ ...whole, plain: [], actions: [] })).toEqual([
    'plain: A rule needs a condition.',
    'actions: A rule needs something it does.',
  ])
})
