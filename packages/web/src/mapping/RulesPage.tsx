import { Box, Button, chakra, Flex, Span, Table } from '@chakra-ui/react'
import type { RuleBody, RulesPage as RulesFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { countText, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { rulesQuery, touchedQuery, useMappingActs } from './mappingQueries.ts'
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
      <Table.Root aria-label="Rules" style={{ tableLayout: 'fixed' }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ width: 52 }} textAlign="end">
              No.
            </Table.ColumnHeader>
            <Table.ColumnHeader>Reads as</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 92 }} textAlign="end">
              Touches
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 92 }} textAlign="end">
              Decides
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 120 }} textAlign="end">
              {page.currency}
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 214 }} />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rules.map((rule, index) => (
            <Table.Row key={rule.id}>
              <Table.Cell textAlign="end" color="muted">
                {rule.id}
              </Table.Cell>
              <Table.Cell whiteSpace="normal" lineHeight="1.25" style={{ padding: '7px 10px' }}>
                {ruleSentence(rule, { currency: page.currency, locale, accounts: page.accounts })}
              </Table.Cell>
              <Table.Cell textAlign="end">{touched.get(rule.id)?.met.toLocaleString(locale) ?? ''}</Table.Cell>
              <Table.Cell textAlign="end">{touched.get(rule.id)?.decides.toLocaleString(locale) ?? ''}</Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={touched.get(rule.id)?.amount ?? null} currency={page.currency} />
              </Table.Cell>
              <Table.Cell>
                <Flex gap="10px" justify="flex-end">
                  <Button
                    variant="ghost"
                    onClick={() => setDraft(ruleDraftOf(rule, { currency: page.currency, locale }))}
                  >
                    Change
                  </Button>
                  <Button variant="ghost" disabled={index === 0} onClick={() => move(index, -1)}>
                    Up
                  </Button>
                  <Button variant="ghost" disabled={index === rules.length - 1} onClick={() => move(index, 1)}>
                    Down
                  </Button>
                  <Button variant="ghost" onClick={() => setRules(rules.filter(one => one.id !== rule.id))}>
                    Remove
                  </Button>
                </Flex>
              </Table.Cell>
            </Table.Row>
          ))}
          {rules.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={6} color="muted">
                No rules. Routes alone say where lines go; a rule is for what they cannot see: a word in a description,
                a customer, an amount, a date.
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
      <Unsaved changed={changed} what="the rules" />
      <FootBar>
        <Button variant="solid" disabled={!changed || saveRules.isPending} onClick={store}>
          Save rules
        </Button>
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
