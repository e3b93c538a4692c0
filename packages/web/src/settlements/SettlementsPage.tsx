import { Box, Button, Kbd, Span } from '@chakra-ui/react'
import { type SettlementRow, type SettlementState, subjectKey } from '@culvert/contract'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { useUnderWay } from '../context/JobsContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { useMay } from '../context/useMay.ts'
import { useOneAtATime } from '../context/useOneAtATime.ts'
import { usePages } from '../context/usePages.ts'
import { Act, Whose } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { AskConsent } from '../ui/AskConsent.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, currencySign, dateText, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { SetAsideDialog } from '../ui/SetAsideDialog.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { isHeld, type SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useKeptSelection } from '../ui/sheet/useKeptSelection.ts'
import { reasonText } from '../ui/words.ts'
import { settlementsList, useSettlementActs } from './settlementQueries.ts'
import { useSaid } from './useSaid.ts'

const keyOf = (row: SettlementRow): string => `${row.source} ${row.key} ${row.currency}`
const states: readonly [string, string][] = [
  ['', 'All'],
  ['blocked', 'Blocked'],
  ['proposed', 'Proposed'],
  ['posted', 'Posted'],
  ['set_aside', 'Set aside'],
  ['corrected', 'Corrected since'],
  ['elsewhere', 'Booked elsewhere'],
]

const waitsFor = (row: SettlementRow): string => {
  if (row.state === 'set_aside') return row.setAsideReason ?? ''
  if (row.state === 'elsewhere') return 'ended before the first day here'
  if (row.corrections > 0) return `${countText(row.corrections, 'line')} corrected since`
  return row.blocks.map(block => reasonText(block.reason)).join(', ')
}

const columns: readonly SheetColumn<SettlementRow>[] = [
  {
    id: 'name',
    head: 'Settlement',
    width: '118px',
    cell: row => <Span textStyle="mono">{row.name}</Span>,
    value: row => row.name,
  },
  { id: 'source', head: 'Source', width: '96px', cell: row => row.sourceName, value: row => row.sourceName },
  {
    id: 'state',
    head: 'State',
    width: '108px',
    cell: row => <StateMark state={row.state} />,
    value: row => row.state.replace('_', ' '),
  },
  {
    id: 'why',
    head: 'What it waits for',
    cell: row => (
      <Box
        truncate
        maxW="230px"
        title={waitsFor(row)}
        color={row.state === 'blocked' || row.corrections > 0 ? 'ochre' : 'muted'}
      >
        {waitsFor(row)}
      </Box>
    ),
    value: waitsFor,
  },
  { id: 'dates', head: 'Dates', width: '168px', cell: row => rangeText(row.from, row.to), value: row => row.to },
  {
    id: 'lines',
    head: 'Lines',
    right: true,
    width: '64px',
    cell: row => row.lines.toLocaleString('en-IE'),
    value: row => row.lines,
  },
  ...(['gross', 'fees', 'tax', 'payout'] as const).map(
    (name): SheetColumn<SettlementRow> => ({
      id: name,
      head: { gross: 'Gross', fees: 'Fees', tax: 'Tax in it', payout: 'Payout' }[name],
      right: true,
      width: '104px',
      money: row => ({ minor: row[name], currency: row.currency }),
      cell: row => (
        <Amount
          minor={row[name]}
          currency={row.currency}
          trace={{
            at: 'settlement',
            source: row.source,
            key: row.key,
            currency: row.currency,
            ...(name === 'tax' ? {} : { part: name }),
          }}
        />
      ),
    }),
  ),
  { id: 'paid', head: 'Paid', width: '104px', cell: row => dateText(row.payoutDate), value: row => row.payoutDate },
]

/** All settlements by state and source; posts and takes back many at once. */
export const SettlementsPage = () => {
  const may = useMay()
  const client = useClient()
  const href = useHref()
  const { from, to } = usePeriod()
  const [search] = useSearchParams()
  const [selected, setSelected] = useKeptSelection()
  const [asideOpen, setAsideOpen] = useState(false)
  const [asked, setAsked] = useState<'post' | 'back' | null>(null)
  const notice = useNotice()
  const acts = useSettlementActs(client.clientId)
  const said = useSaid(client.clientId)
  const oneAtATime = useOneAtATime()
  const state = search.get('state')
  const list = usePages({
    ...settlementsList(client.clientId, { state, source: search.get('source'), from, to }),
    rowKey: keyOf,
  })
  const { rows, first: query } = list
  const { data } = query
  const chosen = useMemo(() => list.known.filter(row => selected.has(keyOf(row))), [list.known, selected])
  const inState = (wanted: SettlementState) => chosen.filter(row => row.state === wanted)
  // What is not shown is not posted unless it was selected.
  const filter = search.get('q') ?? ''
  const shown = useMemo(() => rows.filter(row => isHeld(columns, row, filter, client.locale)), [rows, filter, client])
  // One that was selected may stand in a part that has not come yet.
  const isChosen = chosen.length > 0 || (selected.size > 0 && list.more)
  const toPost = isChosen ? inState('proposed') : shown.filter(row => row.state === 'proposed')
  const toTakeBack = inState('posted')
  const underWay = useUnderWay(client.clientId, ['post', 'take_back'])
  const busy = acts.post.isPending || acts.takeBack.isPending || underWay
  const after = () => setSelected(new Set())
  const post = () => {
    if (toPost.length > 0 && !busy)
      oneAtATime(over =>
        acts.post.mutate(toPost.map(bodyOf), {
          onSuccess: outcome => {
            if (outcome) said.posted(outcome)
            after()
          },
          onError: notice.refuse,
          onSettled: over,
        }),
      )
  }
  const back = () => {
    if (toTakeBack.length > 0 && !busy)
      oneAtATime(over =>
        acts.takeBack.mutate(toTakeBack.map(bodyOf), {
          onSuccess: outcome => {
            if (outcome) said.takenBack(outcome)
            after()
          },
          onError: notice.refuse,
          onSettled: over,
        }),
      )
  }
  const askToPost = () => (toPost.length > 1 && !busy ? setAsked('post') : post())
  const askToTakeBack = () => (toTakeBack.length > 1 && !busy ? setAsked('back') : back())
  useKey('p', 'post what is selected, or all shown that is proposed', askToPost)
  useKey('b', 'take back what is selected', askToTakeBack)
  const counts = data?.counts
  const countOf = (wanted: string): number | null => {
    if (!counts) return null
    if (wanted === '') return Object.values(counts).reduce((sum, { count }) => sum + count, 0)
    return wanted === 'corrected' ? null : counts[wanted as SettlementState].count
  }
  // Most clients have booked nothing elsewhere.
  const shownStates = states.filter(([value]) => value !== 'elsewhere' || state === value || counts?.elsewhere.count)
  const aside = [...inState('blocked'), ...inState('proposed')]
  return (
    <Page
      of={query}
      title="Settlements"
      links={shownStates.map(([value, label]) => {
        const count = countOf(value)
        const next = new URLSearchParams(search)
        if (value === '') next.delete('state')
        else next.set('state', value)
        return (
          <Link key={value} to={`?${next}`} aria-current={(state ?? '') === value ? 'page' : undefined} onClick={after}>
            {label}
            {count === null ? '' : ` ${count}`}
          </Link>
        )
      })}
      facts={
        data ? (
          <span>
            {countText(rows.length, 'settlement')}
            {list.more ? ' so far' : ''} · amounts in the settlement’s currency, {currencySign(client.base)}
          </span>
        ) : null
      }
    >
      <SheetTable
        label="Settlements"
        aboutOf={row => ({
          subject: 'settlement',
          key: subjectKey(row.source, row.key, row.currency),
          title: `settlement ${row.name}`,
          link: settlementPath(row),
        })}
        columns={columns}
        rows={rows}
        rowKey={keyOf}
        more={list.more}
        arranged={list.arranged}
        onMore={list.loadMore}
        to={row => href(settlementPath(row))}
        known={list.known}
        selected={selected}
        onSelect={setSelected}
        tone={row => (row.state === 'blocked' ? 'waiting' : undefined)}
        traceOf={row => ({ at: 'settlement', source: row.source, key: row.key, currency: row.currency })}
        empty={
          state === null
            ? 'Settlements appear here when a source’s activity is pulled or brought in as a file, on the Sources page.'
            : 'None in this state.'
        }
      />
      <FootBar>
        <Act right="post" variant="solid" disabled={toPost.length === 0 || busy} onClick={askToPost}>
          Post {countText(toPost.length, 'settlement')}
        </Act>
        <AskConsent
          right="post"
          disabled={toPost.length === 0}
          label={`Ask for consent to post ${countText(toPost.length, 'settlement')}`}
          what={`post ${countText(toPost.length, 'settlement')}`}
          wanted={() => ({ sort: 'post', keys: toPost.map(bodyOf) })}
        />
        {may('settle') ? null : <Whose right="post" />}
        {may('post') ? <Kbd>p</Kbd> : null}
        <Act right="post" disabled={toTakeBack.length === 0 || busy} onClick={askToTakeBack}>
          Take back {toTakeBack.length > 0 ? toTakeBack.length : ''}
        </Act>
        {toTakeBack.length > 0 ? (
          <AskConsent
            right="post"
            label={`Ask for consent to take back ${toTakeBack.length}`}
            what={`take back ${countText(toTakeBack.length, 'settlement')}`}
            wanted={() => ({ sort: 'take_back', keys: toTakeBack.map(bodyOf) })}
          />
        ) : null}
        {may('post') ? <Kbd>b</Kbd> : null}
        <Act right="settle" disabled={aside.length === 0} onClick={() => setAsideOpen(true)}>
          Set aside {aside.length > 0 ? aside.length : ''}
        </Act>
        {inState('set_aside').length > 0 ? (
          <Button
            onClick={() =>
              acts.takeUp.mutate(inState('set_aside').map(bodyOf), { onSuccess: () => after(), onError: notice.refuse })
            }
          >
            Take up {inState('set_aside').length}
          </Button>
        ) : null}
        <Span color="muted">{consequence(toPost, toTakeBack, client.locale)}</Span>
      </FootBar>
      <AskDialog
        open={asked === 'post'}
        title={`Post ${countText(toPost.length, 'settlement')}?`}
        act={`Post ${countText(toPost.length, 'settlement')}`}
        onAct={post}
        onClose={() => setAsked(null)}
      >
        {consequence(toPost, [], client.locale)}
      </AskDialog>
      <AskDialog
        open={asked === 'back'}
        title={`Take back ${countText(toTakeBack.length, 'settlement')}?`}
        act={`Take back ${countText(toTakeBack.length, 'settlement')}`}
        onAct={back}
        onClose={() => setAsked(null)}
      >
        {consequence([], toTakeBack, client.locale)}
      </AskDialog>
      <SetAsideDialog
        open={asideOpen}
        what={countText(aside.length, 'settlement')}
        hint="the proof keeps counting it."
        onClose={() => setAsideOpen(false)}
        onDone={reason =>
          acts.setAside.mutate(
            { keys: aside.map(bodyOf), reason },
            {
              onSuccess: () => {
                setAsideOpen(false)
                said.setAside(aside.map(bodyOf))
                after()
              },
              onError: notice.refuse,
            },
          )
        }
      />
    </Page>
  )
}

const bodyOf = ({ source, key, currency }: SettlementRow) => ({ source, key, currency })

const consequence = (
  toPost: readonly SettlementRow[],
  toTakeBack: readonly SettlementRow[],
  locale: string,
): string => {
  const sum = (rows: readonly SettlementRow[]) => {
    const currencies = [...new Set(rows.map(row => row.currency))]
    return currencies
      .map(
        currency =>
          `${currencySign(currency)} ${amountText(
            rows.filter(row => row.currency === currency).reduce((total, row) => total + row.gross + row.fees, 0),
            currency,
            locale,
          )}`,
      )
      .join(', ')
  }
  if (toTakeBack.length > 0 && toPost.length === 0)
    return `Taking back posts ${countText(toTakeBack.length, 'mirror entry', 'mirror entries')} and their transfers’, ${sum(toTakeBack)} after fees; nothing is deleted.`
  if (toPost.length === 0) return 'Nothing proposed here. Select posted settlements to take them back.'
  const dates = toPost.map(row => row.entryDate ?? '').sort()
  return `Posts ${countText(toPost.length, 'settlement')} dated ${rangeText(dates[0] ?? null, dates.at(-1) ?? null)}, ${sum(toPost)} after fees. Can be taken back.`
}
