import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { RuleBody, RulesPage } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { Select } from '../ui/Select.tsx'
import { ActionFields } from './ActionFields.tsx'
import { ConditionFields } from './ConditionFields.tsx'
import { touchedQuery } from './mappingQueries.ts'
import { blankCondition, type ConditionDraft, type GroupDraft, type RuleDraft, ruleOf } from './ruleDraft.ts'
import { ruleSentence } from './ruleSentence.ts'

interface RuleDialogProps {
  readonly draft: RuleDraft
  readonly page: RulesPage
  /** The rules before this one, which win over it. */
  readonly before: readonly RuleBody[]
  readonly onClose: () => void
  readonly onTake: (rule: RuleBody) => void
}

/** Writes a rule; says at once what it reads like and which lines of the last 13 weeks it would touch. */
export const RuleDialog = ({ draft: given, page, before, onClose, onTake }: RuleDialogProps) => {
  const { locale } = useClient()
  const [draft, setDraft] = useState(given)
  const rule = ruleOf(draft, { currency: page.currency, locale })
  const setGroup = (at: number, group: GroupDraft | null): void =>
    setDraft({
      ...draft,
      groups: draft.groups.flatMap((one, index) => (index === at ? (group ? [group] : []) : [one])),
    })
  return (
    <Modal
      open
      wide
      onClose={onClose}
      title={
        before.some(one => one.id === given.id) || page.rules.some(one => one.id === given.id)
          ? `Rule ${given.id}`
          : 'Add a rule'
      }
      foot={
        <>
          <Touched rule={rule} before={before} />
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="solid" disabled={rule === null} onClick={() => rule && onTake(rule)}>
            Done
          </Button>
        </>
      }
    >
      <Box color="muted" textStyle="small" mb="4px">
        When all of these hold
      </Box>
      <Conditions
        name="Condition"
        value={draft.plain}
        onChange={plain => setDraft({ ...draft, plain })}
        onGroup={() =>
          setDraft({ ...draft, groups: [...draft.groups, { atLeast: 1, of: [blankCondition, blankCondition] }] })
        }
      />
      {draft.groups.map((group, at) => (
        <Box key={at} borderLeftWidth="2px" borderColor="hairline" pl="10px" my="8px">
          <Flex color="muted" textStyle="small" align="center" gap="6px" mb="4px">
            and at least
            <Select
              h="26px"
              aria-label={`Group ${at + 1}, how many must hold`}
              value={group.atLeast}
              onChange={event => setGroup(at, { ...group, atLeast: Number(event.target.value) })}
            >
              {group.of.map((_, index) => (
                <option key={index} value={index + 1}>
                  {index + 1}
                </option>
              ))}
            </Select>
            of these
          </Flex>
          <Conditions
            name={`Group ${at + 1}, condition`}
            value={group.of}
            onChange={of => setGroup(at, of.length === 0 ? null : { of, atLeast: Math.min(group.atLeast, of.length) })}
          />
        </Box>
      ))}
      <Box color="muted" textStyle="small" mb="4px" mt="10px">
        do this
      </Box>
      {draft.actions.map((action, index) => (
        <ActionFields
          key={index}
          name={`Action ${index + 1}`}
          value={action}
          accounts={page.accounts}
          taxCodes={page.taxCodes}
          onChange={changed => setDraft({ ...draft, actions: draft.actions.with(index, changed) })}
          onRemove={() => setDraft({ ...draft, actions: draft.actions.filter((_, at) => at !== index) })}
        />
      ))}
      <Button
        variant="plain"
        onClick={() => setDraft({ ...draft, actions: [...draft.actions, { set: 'account', account: '' }] })}
      >
        Add something it does
      </Button>
      <Box mt="10px" minH="40px" color={rule ? 'inherit' : 'muted'}>
        {rule
          ? ruleSentence(rule, { currency: page.currency, locale, accounts: page.accounts })
          : 'Not whole yet: each condition needs a value, and the rule something it does.'}
      </Box>
    </Modal>
  )
}

const Conditions = ({
  name,
  value,
  onChange,
  onGroup,
}: {
  readonly name: string
  readonly value: readonly ConditionDraft[]
  readonly onChange: (value: readonly ConditionDraft[]) => void
  readonly onGroup?: () => void
}) => (
  <>
    {value.map((condition, index) => (
      <ConditionFields
        key={index}
        name={`${name} ${index + 1}`}
        value={condition}
        onChange={changed => onChange(value.with(index, changed))}
        onRemove={() => onChange(value.filter((_, at) => at !== index))}
      />
    ))}
    <Flex gap="12px">
      <Button variant="plain" onClick={() => onChange([...value, blankCondition])}>
        Add a condition
      </Button>
      {onGroup ? (
        <Button variant="plain" onClick={onGroup}>
          Add a choice of conditions
        </Button>
      ) : null}
    </Flex>
  </>
)

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
