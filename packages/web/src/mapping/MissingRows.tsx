import { Button, Flex, Input, Span, Table } from '@chakra-ui/react'
import type { MissingAccount, MissingBank, MissingTax, TraceStart } from '@culvert/contract'
import { accountTypes, type Kind, kinds } from '@culvert/core'
import type { ReactNode } from 'react'
import { useTrace } from '../context/TraceContext.tsx'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Check } from '../ui/form/Check.tsx'
import { countText } from '../ui/formats.ts'
import { Select } from '../ui/Select.tsx'
import { accountTypeText } from '../ui/words.ts'
import { accountChoice, type MissingEditing, ownChoice, ownKey, taxChoice } from './missingDraft.ts'
import { regionText } from './taxPlaceText.ts'

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
  readonly choose: MissingEditing['choose']
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

/** A bank account, a clearing account, or the account of rounding. */
export const OwnRow = ({
  row,
  sort,
  first,
  ...editing
}: MissingEditing & { readonly row: MissingBank; readonly sort: keyof typeof ownWords; readonly first: boolean }) => {
  const { page, draft, choose } = editing
  const words = ownWords[sort]
  const choice = ownChoice(row, draft, sort)
  const key = ownKey(row, sort)
  const there = page.chart.filter(
    account =>
      words.types.some(type => type === account.type) &&
      !account.archived &&
      account.currency === row.currency &&
      (sort !== 'bank' || account.takesPayments),
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

/** An account that routes lack. */
export const AccountRow = ({
  row,
  first,
  ...editing
}: MissingEditing & { readonly row: MissingAccount; readonly first: boolean }) => {
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

/** A tax code that sales to a place lack. */
export const TaxRow = ({
  row,
  first,
  ...editing
}: MissingEditing & { readonly row: MissingTax; readonly first: boolean }) => {
  const { page, draft, choose } = editing
  const choice = taxChoice(row, draft)
  const place = `${regionText(row.region)}${row.class === '' ? '' : `, ${row.class}`}`
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
