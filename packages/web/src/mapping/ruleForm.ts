import type { RuleBody } from '@culvert/contract'
import type { RuleAction } from '@culvert/core'
import { z } from 'zod'
import {
  type ConditionDraft,
  conditionOf,
  isAmountField,
  isWholeAction,
  type RuleDraft,
  ruleOf,
  type Writing,
} from './ruleDraft.ts'

const condition = z.custom<ConditionDraft>()
const shape = z.object({
  id: z.number(),
  plain: z.array(condition),
  groups: z.array(z.object({ atLeast: z.number(), of: z.array(condition) })),
  actions: z.array(z.custom<RuleAction>()),
})

/** What stands in the form of a rule. */
export type RuleInput = z.input<typeof shape>

export const inputOf = (draft: RuleDraft): RuleInput => ({
  ...draft,
  plain: [...draft.plain],
  groups: draft.groups.map(group => ({ ...group, of: [...group.of] })),
  actions: [...draft.actions],
})

const missingIn = ({ field, is }: ConditionDraft): string => {
  if (isAmountField(field)) return 'An amount at each end.'
  if (field === 'localDate') return is === 'between' ? 'A day at each end.' : 'Which day?'
  return field === 'kind' ? 'Which kinds, by their names?' : 'What must it say?'
}

/** The form of a rule, amounts as the client writes them: each part that is not whole is named, the whole is made into a rule. */
export const ruleForm = (writing: Writing) =>
  shape.transform((draft, context): RuleBody => {
    const miss = (path: (string | number)[], message: string) => context.addIssue({ code: 'custom', path, message })
    const look = (one: ConditionDraft, path: (string | number)[]): void => {
      if (conditionOf(one, writing) === null) miss(path, missingIn(one))
    }
    for (const [at, one] of draft.plain.entries()) look(one, ['plain', at])
    for (const [at, group] of draft.groups.entries())
      for (const [index, one] of group.of.entries()) look(one, ['groups', at, 'of', index])
    for (const [at, action] of draft.actions.entries()) if (!isWholeAction(action)) miss(['actions', at], 'To what?')
    if (draft.plain.length + draft.groups.length === 0) miss(['plain'], 'A rule needs a condition.')
    if (draft.actions.length === 0) miss(['actions'], 'A rule needs something it does.')
    return ruleOf(draft, writing) ?? z.NEVER
  })
