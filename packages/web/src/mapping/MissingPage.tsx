import { Box, Button, Flex, Input, Span, Table, VisuallyHidden } from '@chakra-ui/react'
import type {
  MissingPage as Missing,
  MissingAccount,
  MissingBank,
  MissingFeeTax,
  MissingTax,
  TraceStart,
} from '@culvert/contract'
import { accountTypes, type Kind, kinds } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { missingQuery } from '../context/sharedQueries.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { useMay } from '../context/useMay.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Whose } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { Check } from '../ui/form/Check.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import { accountTypeText } from '../ui/words.ts'
import { MappingLinks } from './MappingLinks.tsx'
import { useMakeMissing } from './mappingQueries.ts'
import {
  accountChoice,
  type Chosen,
  countsOf,
  emptyDraft,
  type MissingDraft,
  ownChoice,
  ownKey,
  taxChoice,
  wantedOf,
} from './missingDraft.ts'

/** What booking lacks for what the sources reported: computed, each with what would serve and why, changed in place, made in one act. */
export const MissingPage = () => {
  const { clientId } = useClient()
  const query = useQuery(missingQuery(clientId))
  const { data } = query
  return data ? (
    <Rows key={data.version} page={data} />
  ) : (
    <Page links={<MappingLinks here="missing" />} title="What is missing" of={query} />
  )
}

interface Editing {
  readonly page: Missing
  readonly draft: MissingDraft
  readonly choose: (key: string, part: Chosen) => void
  readonly say: (key: string, code: string | null | undefined) => void
}

const Rows = ({ page }: { readonly page: Missing }) => {
  const { clientId } = useClient()
  const href = useHref()
  const notice = useNotice()
  const may = useMay()
  const make = useMakeMissing(clientId)
  const [draft, setDraft] = useState(emptyDraft)
  const wanted = wantedOf(page, draft)
  const counts = countsOf(wanted)
  const things =
    page.banks.length + page.clearings.length + (page.rounding ? 1 : 0) + page.accounts.length + page.taxes.length
  const open =
    things - counts.all + page.feeTaxes.filter(({ key }) => !draft.feeTaxes.has(key)).length + page.unfit.length
  const editing: Editing = {
    page,
    draft,
    choose: (key, part) =>
      setDraft({ ...draft, rows: new Map(draft.rows).set(key, { ...draft.rows.get(key), ...part }) }),
    say: (key, code) => {
      const feeTaxes = new Map(draft.feeTaxes)
      if (code === undefined) feeTaxes.delete(key)
      else feeTaxes.set(key, code)
      setDraft({ ...draft, feeTaxes })
    },
  }
  const take = () =>
    make.mutate(wanted, {
      onError: notice.refuse,
      onSuccess: made =>
        notice.say(
          `Made ${countText(made.accounts, 'account')}, ${countText(made.taxCodes, 'tax code')} and ${countText(made.routes, 'route')}. ${countText(made.unblocked, 'settlement')} no longer blocked.`,
        ),
    })
  return (
    <Page
      links={<MappingLinks here="missing" />}
      title="What is missing"
      facts={
        page.from === null ? null : (
          <span>
            {countText(things, 'thing')} · money of 13 weeks, {dateText(page.from)} to {dateText(page.to)}
          </span>
        )
      }
    >
      {things + page.feeTaxes.length + page.unfit.length === 0 ? (
        <Box color="muted" bg="sheet" borderWidth="1px" borderColor="hairline" px="14px" py="12px">
          {page.from === null
            ? 'Here stands what booking lacks, once a source has reported something. Connect one, or bring in a file, at Sources.'
            : 'Nothing is missing: all that the sources reported in these 13 weeks has its account and its tax.'}
        </Box>
      ) : (
        <>
          <Box overflowX="auto">
            <Table.Root aria-label="What is missing" bg="sheet" minW="1180px" tableLayout="fixed">
              <Table.Header>
                <Table.Row>
                  <Table.ColumnHeader w="36px">
                    <VisuallyHidden>Take</VisuallyHidden>
                  </Table.ColumnHeader>
                  <Table.ColumnHeader w="76px">Stage</Table.ColumnHeader>
                  <Table.ColumnHeader w="200px">Missing</Table.ColumnHeader>
                  <Table.ColumnHeader w="230px">Which source needs it</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="right" w="96px">
                    {page.base}
                  </Table.ColumnHeader>
                  <Table.ColumnHeader w="372px">Use what exists, or make: number, name, type</Table.ColumnHeader>
                  <Table.ColumnHeader>Why</Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {page.banks.map((row, at) => (
                  <OwnRow key={row.key} sort="bank" row={row} first={at === 0} {...editing} />
                ))}
                {page.clearings.map((row, at) => (
                  <OwnRow key={row.key} sort="clearing" row={row} first={at === 0} {...editing} />
                ))}
                {page.rounding ? <OwnRow sort="rounding" row={page.rounding} first {...editing} /> : null}
                {page.accounts.map((row, at) => (
                  <AccountRow key={row.key} row={row} first={at === 0} {...editing} />
                ))}
                {page.taxes.map((row, at) => (
                  <TaxRow key={row.key} row={row} first={at === 0} {...editing} />
                ))}
              </Table.Body>
            </Table.Root>
          </Box>
          {page.feeTaxes.length + page.unfit.length > 0 ? (
            <Box mt="12px" bg="ochre.wash" borderWidth="1px" borderColor="ochre">
              <Box as="h2" color="ochre" fontWeight="600" px="12px" pt="8px">
                Only a person can say
              </Box>
              {page.feeTaxes.map(row => (
                <FeeTax key={row.key} row={row} {...editing} />
              ))}
              {page.unfit.map(row => (
                <Flex key={`${row.source} ${row.currency}`} px="12px" py="6px" gap="14px">
                  <Span fontWeight="600">
                    Clearing account {row.account} of {row.name}
                  </Span>
                  <Span color="muted" flex="1">
                    {unfitText[row.why]} for {row.currency}
                  </Span>
                  <Link to={href(`/sources/${row.source}`)}>Change it at the source</Link>
                </Flex>
              ))}
            </Box>
          ) : null}
          {page.taxByRows ? null : (
            <Box mt="10px" color="muted">
              Here routes decide the tax of sales, not the grid: it is said at each source’s starter map.
            </Box>
          )}
        </>
      )}
      {things + page.feeTaxes.length > 0 ? (
        <FootBar>
          {may('map') ? (
            <Button variant="solid" disabled={counts.all === 0 || make.isPending} onClick={take}>
              {actText(counts)}
            </Button>
          ) : (
            <Whose right="map" />
          )}
          <Span color="muted">
            {counts.accounts + counts.taxCodes > 0 && counts.used > 0 ? `Also uses ${counts.used} that exist. ` : ''}
            Posts nothing; what is made can be changed until something is booked to it.
            {open > 0 ? ` ${countText(open, 'thing stays', 'things stay')} open.` : ''}
          </Span>
        </FootBar>
      ) : null}
    </Page>
  )
}

const actText = ({ accounts, taxCodes, used, all }: ReturnType<typeof countsOf>): string => {
  if (all === 0) return 'Choose what to make'
  if (accounts + taxCodes === 0) return `Use ${countText(used, 'that exists', 'that exist')}`
  return `Make ${[accounts > 0 ? countText(accounts, 'account') : '', taxCodes > 0 ? countText(taxCodes, 'tax code') : ''].filter(Boolean).join(', ')}`
}

const unfitText = {
  type: 'is no clearing account',
  currency: 'is in another currency',
  archived: 'takes no postings',
} as const

interface RowFrameProps {
  readonly label: string
  readonly stage: string | null
  readonly taken: boolean
  readonly waits: boolean
  readonly onTake: (taken: boolean) => void
  readonly what: ReactNode
  readonly needs: ReactNode
  readonly amount: number
  readonly trace: TraceStart | null
  readonly choice: ReactNode
  readonly why: ReactNode
}

const RowFrame = ({ label, stage, taken, waits, onTake, what, needs, amount, trace, choice, why }: RowFrameProps) => (
  <Table.Row bg={taken ? undefined : 'linen'} borderTopWidth={stage === null ? undefined : '2px'}>
    <Table.Cell>
      <Check label={label} checked={taken} disabled={waits} onChange={onTake} />
    </Table.Cell>
    <Table.Cell fontWeight="600">{stage}</Table.Cell>
    <Table.Cell fontWeight="600" whiteSpace="normal">
      {what}
    </Table.Cell>
    <Table.Cell color="muted" textStyle="small" whiteSpace="normal">
      {needs}
    </Table.Cell>
    <Table.Cell textAlign="right">
      <Amount minor={amount} trace={trace} />
    </Table.Cell>
    <Table.Cell py="3px">{choice}</Table.Cell>
    <Table.Cell color="muted" textStyle="small" whiteSpace="normal">
      {why}
    </Table.Cell>
  </Table.Row>
)

const NewAccountInputs = ({
  of,
  label,
  choice,
  choose,
}: {
  readonly of: string
  readonly label: string
  readonly choice: ReturnType<typeof accountChoice>
  readonly choose: Editing['choose']
}) => (
  <Flex gap="6px" align="center">
    <Input
      aria-label={`Number for ${label}`}
      w="74px"
      fontFamily="mono"
      value={choice.code}
      onChange={event => choose(of, { code: event.target.value })}
    />
    <Input
      aria-label={`Name for ${label}`}
      flex="1"
      minW="110px"
      value={choice.name}
      onChange={event => choose(of, { name: event.target.value })}
    />
    <Select
      aria-label={`Type for ${label}`}
      w="112px"
      value={choice.type}
      onChange={event => choose(of, { type: accountTypes.find(type => type === event.target.value) ?? choice.type })}
    >
      {accountTypes.map(type => (
        <option key={type} value={type}>
          {accountTypeText(type)}
        </option>
      ))}
    </Select>
  </Flex>
)

/** What one may do instead: take an account that exists, or make one. */
const Other = ({ children, onClick }: { readonly children: ReactNode; readonly onClick: () => void }) => (
  <Button variant="plain" textStyle="small" onClick={onClick}>
    {children}
  </Button>
)

const ownWords = {
  bank: { stage: 'Bank', what: 'Bank account for payouts in', of: 'bank account', types: ['bank', 'card'] },
  clearing: { stage: 'Clearing', what: 'Clearing account in', of: 'clearing account', types: ['clearing'] },
  rounding: {
    ...{ stage: 'Books', what: 'Account for rounding in', of: 'rounding' },
    types: ['other_income', 'expense', 'income'],
  },
} as const

const OwnRow = ({
  row,
  sort,
  first,
  ...editing
}: Editing & { readonly row: MissingBank; readonly sort: keyof typeof ownWords; readonly first: boolean }) => {
  const { page, draft, choose } = editing
  const words = ownWords[sort]
  const choice = ownChoice(row, draft, sort)
  const key = ownKey(row, sort)
  const there = page.chart.filter(
    account =>
      words.types.some(type => type === account.type) && !account.archived && account.currency === row.currency,
  )
  const label = row.name === '' ? words.of : `${words.of} of ${row.name} in ${row.currency}`
  return (
    <RowFrame
      label={`Take ${label}`}
      stage={first ? words.stage : null}
      taken={choice.taken}
      waits={choice.waits !== null}
      onTake={taken => choose(key, { taken })}
      what={`${words.what} ${row.currency}`}
      needs={
        sort === 'rounding'
          ? `${countText(row.lines, 'settlement')} in other currencies leave cents`
          : `${row.name}: ${countText(row.lines, sort === 'bank' ? 'payout' : 'line')}`
      }
      amount={row.amount}
      trace={sort === 'bank' ? { at: 'kind', source: row.source, kind: 'payout' } : null}
      choice={
        choice.use === null ? (
          <NewAccountInputs of={key} label={label} choice={choice} choose={choose} />
        ) : (
          <Select
            aria-label={`Account for ${label}`}
            w="100%"
            value={choice.use}
            onChange={event => choose(key, { use: event.target.value, taken: true })}
          >
            {there.map(account => (
              <option key={account.code} value={account.code}>
                {account.code} {account.name}
              </option>
            ))}
          </Select>
        )
      }
      why={
        choice.use === null ? (
          there.length === 0 ? (
            'the chart has none in this currency'
          ) : (
            <Other onClick={() => choose(key, { use: there[0]?.code ?? null })}>use one there is</Other>
          )
        ) : (
          <>
            {ownReason(row, sort)} · <Other onClick={() => choose(key, { use: null })}>make one</Other>
          </>
        )
      }
    />
  )
}

const ownReason = (row: MissingBank, sort: keyof typeof ownWords): string =>
  sort === 'rounding' ? 'named like it' : row.use?.sure ? 'the only one of its currency' : 'one of several: look at it'

const KindLinks = ({ row }: { readonly row: MissingAccount }) => {
  const { open } = useTrace()
  return row.sources.map(({ source, name, lines, kinds: own }, at) => (
    <Span key={source}>
      {at > 0 ? '; ' : ''}
      {name}, {countText(lines, 'line')}:{' '}
      {own.map((kind, place) => (
        <Span key={kind}>
          {place > 0 ? ', ' : ''}
          <Button
            variant="ghost"
            _hover={{ textDecoration: 'underline', textDecorationStyle: 'dotted' }}
            onClick={() => open({ at: 'kind', source, kind })}
          >
            {kinds[kind].label.toLowerCase()}
          </Button>
        </Span>
      ))}
    </Span>
  ))
}

const nameOf = (kind: Kind, label: string | null): string =>
  `Account for ${kinds[kind].label.toLowerCase()}${label === null ? '' : `, ${label}`}`

const AccountRow = ({
  row,
  first,
  ...editing
}: Editing & { readonly row: MissingAccount; readonly first: boolean }) => {
  const { page, draft, choose } = editing
  const choice = accountChoice(row, draft)
  const label = nameOf(row.kind, row.label).replace(/^Account for /, '')
  const [only] = row.sources
  return (
    <RowFrame
      label={`Take ${label}`}
      stage={first ? 'Mapping' : null}
      taken={choice.taken}
      waits={choice.waits !== null}
      onTake={taken => choose(row.key, { taken })}
      what={nameOf(row.kind, row.label)}
      needs={<KindLinks row={row} />}
      amount={row.amount}
      trace={
        only && row.sources.length === 1 && row.kinds.length === 1 && row.label === null
          ? { at: 'kind', source: only.source, kind: row.kind }
          : null
      }
      choice={
        choice.use === null ? (
          <NewAccountInputs of={row.key} label={label} choice={choice} choose={choose} />
        ) : (
          <AccountPicker
            label={`Account for ${label}`}
            kind={row.kind}
            accounts={page.chart}
            value={choice.use}
            onChange={use => choose(row.key, { use, taken: true })}
          />
        )
      }
      why={
        choice.waits === 'tax' ? (
          <Span color="ochre">say its tax below</Span>
        ) : choice.use === null ? (
          <>
            {row.use ? '' : 'no account of the chart is for it · '}
            <Other onClick={() => choose(row.key, { use: row.use?.account ?? page.chart[0]?.code ?? null })}>
              use one there is
            </Other>
          </>
        ) : (
          <>
            {reasonText(row, choice.use)} · <Other onClick={() => choose(row.key, { use: null })}>make one</Other>
          </>
        )
      }
    />
  )
}

const reasonText = ({ use }: MissingAccount, account: string): string => {
  if (use?.account !== account) return 'chosen'
  const { named, called, onlyOfType } = use.reason
  const parts = [
    named.length > 0 ? `named like it: ${named.join(', ')}` : '',
    called.length > 0 ? `says ${called.join(', ')}` : '',
    onlyOfType ? 'the only one of its type' : '',
  ].filter(Boolean)
  return `${use.sure ? '' : 'not sure: '}${parts.join('; ')}`
}

const TaxRow = ({ row, first, ...editing }: Editing & { readonly row: MissingTax; readonly first: boolean }) => {
  const { page, draft, choose } = editing
  const choice = taxChoice(row, draft)
  const place = `${row.region ?? 'no region'}${row.class === '' ? '' : `, ${row.class}`}`
  const codes = page.taxCodes.filter(code => code.use === 'sales')
  const posts = page.taxAccount.use ?? `${page.taxAccount.make.code} ${page.taxAccount.make.name}`
  return (
    <RowFrame
      label={`Take tax of ${place}`}
      stage={first ? 'Tax' : null}
      taken={choice.taken}
      waits={choice.waits !== null}
      onTake={taken => choose(row.key, { taken })}
      what={`Tax code, sales to ${place}`}
      needs={`${countText(row.lines, 'line')}; ${row.seenPercent === null ? 'their tax is not stated' : `${row.seenPercent.toFixed(2)} % stated`}`}
      amount={row.amount}
      trace={null}
      choice={
        choice.none ? (
          <Span>no tax of one’s own</Span>
        ) : choice.use !== null ? (
          <Select
            aria-label={`Tax code for ${place}`}
            w="100%"
            value={choice.use}
            onChange={event => choose(row.key, { use: event.target.value, taken: true })}
          >
            {codes.map(code => (
              <option key={code.code} value={code.code}>
                {code.code} {code.name}
              </option>
            ))}
          </Select>
        ) : row.make === null ? (
          <Span color="ochre">The client’s country is not known: say it at Settings.</Span>
        ) : (
          <Flex gap="6px" align="center">
            <Input
              aria-label={`Code for ${place}`}
              w="74px"
              fontFamily="mono"
              value={choice.code}
              onChange={event => choose(row.key, { code: event.target.value.toUpperCase() })}
            />
            <Input
              aria-label={`Name of the code for ${place}`}
              flex="1"
              minW="110px"
              value={choice.name}
              onChange={event => choose(row.key, { name: event.target.value })}
            />
            <Input
              aria-label={`Rate for ${place}, %`}
              w="76px"
              textAlign="right"
              placeholder="rate, %"
              value={choice.percentText}
              onChange={event => choose(row.key, { percent: event.target.value })}
            />
            <Span color="muted" textStyle="small" w="30px">
              %
            </Span>
          </Flex>
        )
      }
      why={
        choice.none ? (
          <>
            exempt, or paid over by the source ·{' '}
            <Other onClick={() => choose(row.key, { none: false, taken: undefined })}>there is one</Other>
          </>
        ) : choice.use === null ? (
          <>
            {choice.waits === 'rate' ? (
              <Span color="ochre">say the rate; within the price</Span>
            ) : (
              `within the price; posts to ${posts}`
            )}{' '}
            · <Other onClick={() => choose(row.key, { none: true })}>no tax</Other>
          </>
        ) : (
          <>
            {row.use ? whyText[row.use.why] : 'chosen'} ·{' '}
            <Other onClick={() => choose(row.key, { use: null })}>make one</Other>
          </>
        )
      }
    />
  )
}

const whyText = {
  rate_seen: 'its rate is what was charged',
  only_one: 'the only one of the country: look at it',
  standard: 'the highest of the country: look at it',
} as const

const unsaid = 'unsaid'
const none = 'none'

const FeeTax = ({ row, page, draft, say }: Editing & { readonly row: MissingFeeTax }) => {
  const said = draft.feeTaxes.get(row.key)
  const title = row.of === 'charged' ? `Tax on what ${row.name} charges` : `Tax on what ${row.name} takes`
  const use = row.of === 'charged' ? 'purchases' : 'sales'
  return (
    <Flex px="12px" py="6px" gap="14px" align="center" wrap="wrap">
      <Span fontWeight="600">{title}</Span>
      <Span color="muted" flex="1" textStyle="small">
        {row.kinds.map(kind => kinds[kind].label.toLowerCase()).join(', ')}; {countText(row.lines, 'line')},{' '}
        <Amount minor={row.amount} signed />.{' '}
        {row.of === 'charged'
          ? 'Whether its bills bear a tax that is taken back, no line says.'
          : 'Which tax is in it, no line says.'}
      </Span>
      <Select
        aria-label={title}
        w="260px"
        value={said === undefined ? unsaid : (said ?? none)}
        onChange={event => {
          const { value } = event.target
          say(row.key, value === unsaid ? undefined : value === none ? null : value)
        }}
      >
        <option value={unsaid}>say it …</option>
        <option value={none}>no tax</option>
        {page.taxCodes
          .filter(code => code.use === use)
          .map(code => (
            <option key={code.code} value={code.code}>
              {code.code} {code.name}
            </option>
          ))}
      </Select>
    </Flex>
  )
}
