import { Button, Span } from '@chakra-ui/react'
import type { MappingPage, RouteBody, StarterRow, TraceStart } from '@culvert/contract'
import { type AccountType, freeCode, kinds } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { mappingQuery, useMapActs } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Amount } from '../ui/Amount.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { Check } from '../ui/form/Check.tsx'
import { countText } from '../ui/formats.ts'
import { allOf } from '../ui/Instead.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { TaxChoice } from '../ui/TaxChoice.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { starterQuery } from './mappingQueries.ts'
import { newRoute } from './newRoute.ts'

/** The starter map: a route proposed for everything that none serves yet, why, and the accounts to make where none fits. */
export const StarterPage = () => {
  const { clientId } = useClient()
  const { source } = useParams()
  const starter = useQuery(starterQuery(clientId, source ?? ''))
  const mapping = useQuery(mappingQuery(clientId, source ?? ''))
  return starter.data && mapping.data ? (
    <Starter key={mapping.data.version} rows={starter.data.rows} mapping={mapping.data} />
  ) : (
    <Page links={<MappingLinks here="routes" />} title="Starter map" of={allOf(starter, mapping)} />
  )
}

const keyOf = (row: StarterRow): string => [row.kind, row.category, row.gateway, row.taxLabel, row.region].join('|')
const nameOf = (row: StarterRow): string =>
  [kinds[row.kind].label, row.category, row.gateway, row.taxLabel, row.region && `to ${row.region}`]
    .filter(Boolean)
    .join(' · ')

interface Choice {
  readonly taken: boolean
  readonly account: string | null
  readonly taxCode: string | null
}

const firstChoice = (row: StarterRow): Choice => ({
  // A route that would leave tax out by silence is not taken for anybody.
  taken: (row.proposal?.sure ?? false) && !row.taxOpen,
  account: row.proposal?.account ?? null,
  taxCode: row.taxCode,
})

interface StarterInEditing {
  readonly mapping: MappingPage
  readonly choiceOf: (row: StarterRow) => Choice
  readonly choose: (row: StarterRow, part: Partial<Choice>) => void
}

const starterColumns = ({ mapping, choiceOf, choose }: StarterInEditing): readonly SheetColumn<StarterRow>[] => [
  {
    id: 'take',
    head: 'Take',
    width: '56px',
    value: row => (choiceOf(row).taken ? 'taken' : 'left'),
    cell: row => (
      <Check label={`Take ${nameOf(row)}`} checked={choiceOf(row).taken} onChange={taken => choose(row, { taken })} />
    ),
  },
  {
    id: 'what',
    head: `What ${mapping.sourceName} reports`,
    width: '260px',
    value: nameOf,
    cell: row => <Span fontWeight="600">{nameOf(row)}</Span>,
  },
  {
    id: 'amount',
    head: `13 weeks, ${mapping.currency}`,
    width: '130px',
    right: true,
    money: row => ({ minor: row.amount, currency: mapping.currency }),
    cell: row => <Amount minor={row.amount} currency={mapping.currency} trace={kindTrace(mapping.source, row)} />,
  },
  { id: 'lines', head: 'Lines', width: '70px', right: true, value: row => row.lines, cell: row => row.lines },
  {
    id: 'to',
    head: 'Would go to',
    width: '280px',
    picks: true,
    value: row => choiceOf(row).account ?? row.make?.name ?? '',
    cell: row =>
      choiceOf(row).account === null && row.make ? (
        <Span pl="9px">
          <Span color="ochre">to make: </Span>
          {row.make.name}{' '}
          <Button variant="ghost" onClick={() => choose(row, { account: '' })}>
            or choose
          </Button>
        </Span>
      ) : (
        <AccountPicker
          label={`Account for ${nameOf(row)}`}
          kind={row.kind}
          accounts={mapping.accounts}
          value={choiceOf(row).account}
          onChange={account => choose(row, { account, taken: true })}
        />
      ),
  },
  {
    id: 'tax',
    head: 'Tax',
    width: '100px',
    picks: true,
    value: row => choiceOf(row).taxCode ?? '',
    cell: row => (
      <TaxChoice
        kind={row.kind}
        label={`Tax code for ${nameOf(row)}`}
        page={mapping}
        value={choiceOf(row).taxCode}
        onChange={taxCode => choose(row, { taxCode })}
      />
    ),
  },
  {
    id: 'why',
    head: 'Why',
    words: true,
    value: reasonText,
    cell: row => (
      <Span color="muted" textStyle="small">
        {reasonText(row)}
      </Span>
    ),
  },
]

/** The lines that a proposed route is for, as far as what it names tells them apart. */
const kindTrace = (source: string, { kind, category, region, gateway }: StarterRow): TraceStart => ({
  at: 'kind',
  source,
  kind,
  ...(category ? { category } : {}),
  ...(region ? { region } : {}),
  ...(gateway ? { gateway } : {}),
})

const Starter = ({ rows, mapping }: { readonly rows: readonly StarterRow[]; readonly mapping: MappingPage }) => {
  const { clientId, base } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const { save, addAccount } = useMapActs(clientId)
  const [choices, setChoices] = useState<ReadonlyMap<string, Choice>>(
    () => new Map(rows.map(row => [keyOf(row), firstChoice(row)])),
  )
  const choiceOf = (row: StarterRow): Choice => choices.get(keyOf(row)) ?? firstChoice(row)
  const choose = (row: StarterRow, part: Partial<Choice>): void =>
    setChoices(new Map(choices).set(keyOf(row), { ...choiceOf(row), ...part }))
  const taken = rows.filter(row => choiceOf(row).taken)
  const toMake = accountsToMake(
    taken.filter(row => choiceOf(row).account === null),
    mapping,
  )
  const take = async (): Promise<void> => {
    try {
      for (const account of toMake.values())
        await addAccount.mutateAsync({ ...account, type: account.type as AccountType, currency: base })
      const changed = taken.map((row): RouteBody => {
        const { account, taxCode } = choiceOf(row)
        const made = account ?? toMake.get(row.make?.name ?? '')?.code ?? null
        return {
          ...newRoute(row.kind),
          source: mapping.source,
          category: row.category,
          gateway: row.gateway,
          taxLabel: row.taxLabel,
          region: row.region,
          account: made,
          taxCode,
          reason: reasonText(row),
        }
      })
      const saved = await save.mutateAsync({ changed, version: mapping.version })
      notice.say(
        `Saved as version ${saved.version} of the map. ${countText(saved.unblocked, 'settlement')} no longer blocked.`,
      )
      navigate(href(`/mapping/${mapping.source}`))
    } catch (error) {
      notice.refuse(error as Error)
    }
  }
  return (
    <Page
      links={<MappingLinks here="routes" />}
      title={`Starter map of ${mapping.sourceName}`}
      facts={
        <span>
          {countText(rows.length, 'kind or category', 'kinds and categories')} without a route · taken already is what
          is sure; look at the others
        </span>
      }
    >
      <SheetTable
        label="Proposed routes"
        fixed
        columns={starterColumns({ mapping, choiceOf, choose })}
        rows={rows}
        rowKey={keyOf}
        tone={row => (choiceOf(row).taken ? 'selected' : undefined)}
        empty={`Everything that ${mapping.sourceName} reports has a route.`}
      />
      <FootBar>
        <Button
          variant="solid"
          disabled={taken.length === 0 || taken.some(row => choiceOf(row).account === '') || save.isPending}
          onClick={() => void take()}
        >
          Make {countText(taken.length, 'route')}
          {toMake.size > 0 ? ` and ${countText(toMake.size, 'account')}` : ''}
        </Button>
        <Span color="muted">
          {toMake.size > 0
            ? `New in the chart of accounts: ${[...toMake.values()].map(account => `${account.code} ${account.name}`).join(', ')}.`
            : 'A route can be changed at any time; what is posted stays as it is.'}
        </Span>
      </FootBar>
    </Page>
  )
}

const accountsToMake = (rows: readonly StarterRow[], mapping: MappingPage) => {
  const made = new Map<string, { code: string; name: string; type: string }>()
  for (const { make } of rows) {
    if (!make || made.has(make.name)) continue
    const code = freeCode([...mapping.accounts, ...made.values()], make.type)
    made.set(make.name, { code, ...make })
  }
  return made
}

const reasonText = (row: StarterRow): string => [accountReason(row), taxReason(row)].filter(Boolean).join('; ')

const accountReason = ({ proposal, make }: StarterRow): string => {
  if (!proposal) return make ? 'no account of the chart is for it' : ''
  const parts = [
    proposal.named.length > 0 ? `named like it: ${proposal.named.join(', ')}` : '',
    proposal.called.length > 0 ? `says ${proposal.called.join(', ')}` : '',
    proposal.onlyOfType ? 'the only account of its type' : '',
  ].filter(Boolean)
  return `${proposal.sure ? '' : 'not sure: '}${parts.join('; ')}`
}

const taxReason = ({ taxOpen, taxedLike }: StarterRow): string => {
  if (taxOpen) return 'its tax is to be chosen'
  return taxedLike === null ? '' : `taxed like ${kinds[taxedLike].label.toLowerCase()}`
}
