import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { RuleBody, RulesPage } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useEffect } from 'react'
import { type Control, useController, useFieldArray, useFormState, useWatch } from 'react-hook-form'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { countText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { Select } from '../ui/Select.tsx'
import { ActionFields } from './ActionFields.tsx'
import { ConditionFields } from './ConditionFields.tsx'
import { touchedQuery } from './mappingQueries.ts'
import { blankCondition, type RuleDraft, ruleOf } from './ruleDraft.ts'
import { inputOf, type RuleInput, ruleForm } from './ruleForm.ts'
import { ruleSentence } from './ruleSentence.ts'

interface RuleDialogProps {
  readonly draft: RuleDraft
  readonly page: RulesPage
  /** The rules before this one, which win over it. */
  readonly before: readonly RuleBody[]
  readonly onClose: () => void
  readonly onTake: (rule: RuleBody) => void
}

type RuleControl = Control<RuleInput, unknown, RuleBody>

/** Writes a rule; says at once what it reads like and which lines of the last 13 weeks it would touch. */
export const RuleDialog = ({ draft: given, page, before, onClose, onTake }: RuleDialogProps) => {
  const { locale } = useClient()
  const writing = { currency: page.currency, locale }
  const form = useSchemaForm(ruleForm(writing), inputOf(given), { grows: true })
  const { control } = form
  const rule = ruleOf(useWatch({ control }) as RuleInput, writing)
  const isNew = ![...before, ...page.rules].some(one => one.id === given.id)
  return (
    <Modal
      open
      wide
      onClose={onClose}
      onSubmit={() => void form.handleSubmit(onTake)()}
      changed={form.formState.isDirty}
      title={isNew ? 'Add a rule' : `Rule ${given.id}`}
      foot={
        <>
          <Touched rule={rule} before={before} />
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="solid">
            Done
          </Button>
        </>
      }
    >
      <Words>When all of these hold</Words>
      <Conditions control={control} at="plain" name="Condition" />
      <Groups control={control} />
      <Words>do this</Words>
      <Actions control={control} page={page} />
      <Box mt="10px" minH="40px" color={rule ? 'inherit' : 'muted'}>
        {rule
          ? ruleSentence(rule, { currency: page.currency, locale, accounts: page.accounts })
          : 'Not whole yet: each condition needs a value, and the rule something it does.'}
      </Box>
    </Modal>
  )
}

const Words = ({ children }: { readonly children: string }) => (
  <Box color="muted" textStyle="small" mb="4px" mt="10px" _first={{ mt: '0' }}>
    {children}
  </Box>
)

const Fault = ({ text }: { readonly text: string | undefined }) =>
  text ? (
    <Box role="alert" color="crimson" textStyle="small" mt="-3px" mb="6px">
      <span aria-hidden="true">▲ </span>
      {text}
    </Box>
  ) : null

interface ConditionsProps {
  readonly control: RuleControl
  readonly at: 'plain' | `groups.${number}.of`
  readonly name: string
  /** The last one was removed. */
  readonly onNone?: () => void
}

const Conditions = ({ control, at, name, onNone }: ConditionsProps) => {
  const { fields, append, remove } = useFieldArray({ control, name: at })
  const { errors } = useFormState({ control, name: at })
  return (
    <>
      {fields.map((field, index) => (
        <Condition
          key={field.id}
          control={control}
          at={`${at}.${index}`}
          name={`${name} ${index + 1}`}
          onRemove={() => (fields.length === 1 && onNone ? onNone() : remove(index))}
        />
      ))}
      {at === 'plain' ? <Fault text={errors.plain?.root?.message ?? errors.plain?.message} /> : null}
      <Button variant="plain" onClick={() => append(blankCondition)}>
        Add a condition
      </Button>
    </>
  )
}

interface ConditionProps {
  readonly control: RuleControl
  readonly at: `plain.${number}` | `groups.${number}.of.${number}`
  readonly name: string
  readonly onRemove: () => void
}

const Condition = ({ control, at, name, onRemove }: ConditionProps) => {
  const { field, fieldState } = useController({ control, name: at })
  return (
    <>
      <ConditionFields name={name} value={field.value} onChange={field.onChange} onRemove={onRemove} />
      <Fault text={fieldState.error?.message} />
    </>
  )
}

/** Choices of conditions, of which so many must hold. */
const Groups = ({ control }: { readonly control: RuleControl }) => {
  const { fields, append, remove } = useFieldArray({ control, name: 'groups' })
  return (
    <>
      {fields.map((group, at) => (
        <Box key={group.id} borderLeftWidth="2px" borderColor="hairline" pl="10px" my="8px">
          <AtLeast control={control} at={at} />
          <Conditions
            control={control}
            at={`groups.${at}.of`}
            name={`Group ${at + 1}, condition`}
            onNone={() => remove(at)}
          />
        </Box>
      ))}
      <Button variant="plain" onClick={() => append({ atLeast: 1, of: [blankCondition, blankCondition] })}>
        Add a choice of conditions
      </Button>
    </>
  )
}

const AtLeast = ({ control, at }: { readonly control: RuleControl; readonly at: number }) => {
  const { field } = useController({ control, name: `groups.${at}.atLeast` })
  const many = useWatch({ control, name: `groups.${at}.of` }).length
  const { onChange, value } = field
  useEffect(() => {
    if (value > many && many > 0) onChange(many)
  }, [value, many, onChange])
  return (
    <Flex color="muted" textStyle="small" align="center" gap="6px" mb="4px">
      and at least
      <Select
        h="26px"
        aria-label={`Group ${at + 1}, how many must hold`}
        value={value}
        onChange={event => onChange(Number(event.target.value))}
      >
        {Array.from({ length: many }, (_, index) => (
          <option key={index} value={index + 1}>
            {index + 1}
          </option>
        ))}
      </Select>
      of these
    </Flex>
  )
}

const Actions = ({ control, page }: { readonly control: RuleControl; readonly page: RulesPage }) => {
  const { fields, append, remove } = useFieldArray({ control, name: 'actions' })
  const { errors } = useFormState({ control, name: 'actions' })
  return (
    <>
      {fields.map((field, index) => (
        <Action key={field.id} control={control} page={page} at={index} onRemove={() => remove(index)} />
      ))}
      <Fault text={errors.actions?.root?.message ?? errors.actions?.message} />
      <Button variant="plain" onClick={() => append({ set: 'account', account: '' })}>
        Add something it does
      </Button>
    </>
  )
}

interface ActionProps {
  readonly control: RuleControl
  readonly page: RulesPage
  readonly at: number
  readonly onRemove: () => void
}

const Action = ({ control, page, at, onRemove }: ActionProps) => {
  const { field, fieldState } = useController({ control, name: `actions.${at}` })
  return (
    <>
      <ActionFields
        name={`Action ${at + 1}`}
        value={field.value}
        accounts={page.accounts}
        taxCodes={page.taxCodes}
        onChange={field.onChange}
        onRemove={onRemove}
      />
      <Fault text={fieldState.error?.message} />
    </>
  )
}

const Touched = ({ rule, before }: { readonly rule: RuleBody | null; readonly before: readonly RuleBody[] }) => {
  const { clientId } = useClient()
  const asked = useDeferredValue(rule)
  const { data, error } = useQuery(touchedQuery(clientId, asked === null ? null : [...before, asked]))
  const touched = data?.touched.find(one => one.id === asked?.id)
  return (
    <Flex flex="1" textStyle="small" aria-live="polite" gap="4px" wrap="wrap">
      {error ? <Span color="crimson">{error.message}</Span> : null}
      {rule !== null && touched ? (
        <>
          Touches {countText(touched.met, 'line')} of the last 13 weeks, <Amount minor={touched.amount} signed />
          {touched.decides < touched.met ? `; earlier rules leave it ${countText(touched.decides, 'line')}` : ''}
        </>
      ) : null}
    </Flex>
  )
}
