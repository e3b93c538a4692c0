import { Box, Button, chakra, Flex, Span } from '@chakra-ui/react'
import type { RuleBody, RulesPage as RulesFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { countText, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { LinesBehind } from './LinesBehind.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { ruleLinesQuery, rulesQuery, touchedQuery, useMappingActs } from './mappingQueries.ts'
import { RuleDialog } from './RuleDialog.tsx'
import { blankCondition, type RuleDraft, ruleDraftOf } from './ruleDraft.ts'
import { ruleSentence } from './ruleSentence.ts'

/** The client's rules in their order: each one sentence, and what it touches. */
export const RulesPage = () => {
  const { clientId } = useClient()
  const query = useQuery(rulesQuery(clientId))
  const { data } = query
  return data ? <Rules page={data} /> : <Page links={<MappingLinks here="rules" />} title="Rules" of={query} />
}

const same = (one: readonly RuleBody[], other: readonly RuleBody[]): boolean =>
  JSON.stringify(one) === JSON.stringify(other)

const Rules = ({ page }: { readonly page: RulesFacts }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const { saveRules } = useMappingActs(clientId)
  // What this page began from: rules saved by others since are shown beside what was changed here, not in its place.
  const [begun, setBegun] = useState(page)
  const [rules, setRules] = useState<readonly RuleBody[]>(page.rules)
  const [draft, setDraft] = useState<RuleDraft | null>(null)
  const [listed, setListed] = useState<RuleBody | null>(null)
  const lines = useQuery(ruleLinesQuery(clientId, listed))
  const moved = page.version !== begun.version && !same(page.rules, begun.rules)
  const mine = !same(rules, begun.rules)
  const takeTheirs = (): void => {
    setBegun(page)
    setRules(page.rules)
  }
  if (page.version !== begun.version && (!mine || !moved)) {
    setBegun(page)
    if (!mine) setRules(page.rules)
  }
  const changed = !same(rules, page.rules)
  const { data } = useQuery(touchedQuery(clientId, changed ? rules : null))
  const touched = new Map((changed ? data?.touched : page.touched)?.map(one => [one.id, one]))
  const sentenceOf = (rule: RuleBody): string =>
    ruleSentence(rule, { currency: page.currency, locale, accounts: page.accounts })
  const nextId = Math.max(0, ...rules.map(rule => rule.id), ...page.rules.map(rule => rule.id)) + 1
  const take = (rule: RuleBody): void => {
    const at = rules.findIndex(one => one.id === rule.id)
    setRules(at < 0 ? [...rules, rule] : rules.with(at, rule))
    setDraft(null)
  }
  const move = (at: number, by: -1 | 1): void => {
    const moved = rules.filter((_, index) => index !== at)
    setRules([...moved.slice(0, at + by), rules[at] as RuleBody, ...moved.slice(at + by)])
  }
  const store = (): void => {
    if (!changed || saveRules.isPending) return
    saveRules.mutate(
      { rules: [...rules], version: page.version },
      {
        onError: notice.refuse,
        onSuccess: saved => {
          setBegun({ ...page, rules: [...rules], version: saved.version })
          notice.say(`Saved as version ${saved.version} of the map. What is not posted was composed anew.`)
        },
      },
    )
  }
  useKey('ctrl+s', 'save', store)
  const columns: readonly SheetColumn<RuleBody>[] = [
    {
      id: 'id',
      head: 'No.',
      width: '52px',
      right: true,
      cell: rule => <Span color="muted">{rule.id}</Span>,
    },
    {
      id: 'sentence',
      head: 'Reads as',
      wraps: true,
      cell: rule => sentenceOf(rule),
      value: rule => sentenceOf(rule),
    },
    ...touchedColumns(rule => touched.get(rule.id), { currency: page.currency, locale, onLines: setListed }),
    {
      id: 'acts',
      head: '',
      width: '214px',
      right: true,
      cell: rule => (
        <RuleActs
          at={rules.indexOf(rule)}
          of={rules.length}
          onChange={() => setDraft(ruleDraftOf(rule, { currency: page.currency, locale }))}
          onMove={by => move(rules.indexOf(rule), by)}
          onRemove={() => setRules(rules.filter(one => one.id !== rule.id))}
        />
      ),
    },
  ]
  return (
    <Page
      links={<MappingLinks here="rules" />}
      title="Rules"
      facts={
        <span>
          after the routes, from top to bottom; the first that sets something wins it
          {page.to ? ` · lines of 13 weeks, ${rangeText(page.from, page.to)}` : ''}
        </span>
      }
      actions={
        <Button
          onClick={() =>
            setDraft({ id: nextId, plain: [blankCondition], groups: [], actions: [{ set: 'account', account: '' }] })
          }
        >
          Add a rule
        </Button>
      }
    >
      {moved && mine ? <Theirs page={page} onTake={takeTheirs} onKeep={() => setBegun(page)} /> : null}
      {listed ? (
        <LinesBehind
          of={lines}
          title={`Rule ${listed.id}`}
          currency={page.currency}
          back="Back to the rules"
          onClose={() => setListed(null)}
        />
      ) : null}
      <SheetTable
        label="Rules"
        fixed
        columns={columns}
        rows={rules}
        rowKey={rule => String(rule.id)}
        empty="No rules. Routes alone say where lines go; a rule is for what they cannot see: a word in a description, a customer, an amount, a date."
      />
      <Unsaved changed={changed} what="the rules" />
      <FootBar>
        <Act right="map" variant="solid" disabled={!changed || saveRules.isPending} onClick={store}>
          Save rules
        </Act>
        {changed ? <Button onClick={() => setRules(page.rules)}>Discard</Button> : null}
        <Span color="muted">
          {changed
            ? `${countText(rules.length, 'rule')} instead of ${page.rules.length}. Saving composes anew what is not posted; what is posted stays as it is.`
            : `${countText(rules.length, 'rule')}, as saved with version ${page.version} of the map.`}
        </Span>
      </FootBar>
      {draft ? (
        <RuleDialog
          draft={draft}
          page={page}
          before={rules.slice(
            0,
            rules.some(one => one.id === draft.id) ? rules.findIndex(one => one.id === draft.id) : rules.length,
          )}
          onClose={() => setDraft(null)}
          onTake={take}
        />
      ) : null}
    </Page>
  )
}

type Touched = RulesFacts['touched'][number]

const touchedColumns = (
  touchedBy: (rule: RuleBody) => Touched | undefined,
  { currency, locale, onLines }: { currency: string; locale: string; onLines: (rule: RuleBody) => void },
): readonly SheetColumn<RuleBody>[] => [
  {
    id: 'touches',
    head: 'Touches',
    width: '92px',
    right: true,
    cell: rule => touchedBy(rule)?.met.toLocaleString(locale),
    value: rule => touchedBy(rule)?.met ?? null,
  },
  {
    id: 'decides',
    head: 'Decides',
    width: '92px',
    right: true,
    cell: rule => touchedBy(rule)?.decides.toLocaleString(locale),
    value: rule => touchedBy(rule)?.decides ?? null,
  },
  {
    id: 'amount',
    head: currency,
    width: '120px',
    right: true,
    money: rule => ({ minor: touchedBy(rule)?.amount ?? null, currency }),
    cell: rule => (
      <Amount
        minor={touchedBy(rule)?.amount ?? null}
        currency={currency}
        {...(touchedBy(rule)?.met && { onOpen: () => onLines(rule) })}
      />
    ),
  },
]

interface RuleActsProps {
  readonly at: number
  readonly of: number
  readonly onChange: () => void
  readonly onMove: (by: -1 | 1) => void
  readonly onRemove: () => void
}

/** What can be done to a rule: their order is the one they are asked in, however the table is sorted. */
const RuleActs = ({ at, of, onChange, onMove, onRemove }: RuleActsProps) => (
  <Flex gap="10px" justify="flex-end">
    <Button variant="ghost" onClick={onChange}>
      Change
    </Button>
    <Button variant="ghost" disabled={at === 0} onClick={() => onMove(-1)}>
      Up
    </Button>
    <Button variant="ghost" disabled={at === of - 1} onClick={() => onMove(1)}>
      Down
    </Button>
    <Button variant="ghost" onClick={onRemove}>
      Remove
    </Button>
  </Flex>
)

/** The rules that somebody else saved while others were being changed here: either may be kept. */
const Theirs = ({
  page,
  onTake,
  onKeep,
}: {
  readonly page: RulesFacts
  readonly onTake: () => void
  readonly onKeep: () => void
}) => {
  const { locale } = useClient()
  return (
    <Box role="alert" borderWidth="1px" borderColor="ochre" px="12px" py="8px" mb="10px">
      <chakra.div color="ochre">
        ◆ Somebody saved version {page.version} of the map meanwhile. Its rules; yours, not saved yet, stand below:
      </chakra.div>
      <ol style={{ margin: '6px 0 6px 18px' }}>
        {page.rules.map(rule => (
          <chakra.li key={rule.id} textStyle="small">
            {ruleSentence(rule, { currency: page.currency, locale, accounts: page.accounts })}
          </chakra.li>
        ))}
        {page.rules.length === 0 ? (
          <chakra.li color="muted" textStyle="small">
            none
          </chakra.li>
        ) : null}
      </ol>
      <Flex gap="10px">
        <Button onClick={onTake}>Take theirs</Button>
        <Button onClick={onKeep}>Go on with mine</Button>
      </Flex>
    </Box>
  )
}
