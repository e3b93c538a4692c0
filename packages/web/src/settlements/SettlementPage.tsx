import { Box, Button, Flex, Kbd, Span } from '@chakra-ui/react'
import { type SettlementPage as SettlementFacts, subjectKey } from '@culvert/contract'
import { footingDifference } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { type About, useAbout } from '../context/AboutContext.tsx'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { useListed } from '../context/listed.ts'
import { settlementPath } from '../context/settlementPath.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { useMay } from '../context/useMay.ts'
import { useOneAtATime } from '../context/useOneAtATime.ts'
import { AboutButton } from '../ui/AboutButton.tsx'
import { Act, Whose } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { AskConsent } from '../ui/AskConsent.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, currencySign, dateText, dayText, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { SetAsideDialog } from '../ui/SetAsideDialog.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { kindText } from '../ui/words.ts'
import { arrangeStatement, layBeside, type PlacedLine, type StatementItem } from './arrangeEntry.ts'
import { BlockList } from './BlockList.tsx'
import { Corrections } from './Corrections.tsx'
import { EntrySheet } from './EntrySheet.tsx'
import { LinesTable } from './LinesTable.tsx'
import { LinkLines } from './LinkLines.tsx'
import { StatementSheet } from './StatementSheet.tsx'
import { settlementQuery, useSettlementActs } from './settlementQueries.ts'
import { useSaid } from './useSaid.ts'

/** One settlement: what the source says at the left, what it is booked as at the right. */
export const SettlementPage = () => {
  const { source = '', key = '', currency = '' } = useParams()
  const { clientId } = useClient()
  const query = useQuery(settlementQuery(clientId, { source, key, currency }))
  const { data } = query
  if (!data) return <Page title="Settlement" of={query} />
  return <Settlement page={data} />
}

type Pointed = { readonly item: number } | { readonly place: number } | null

const Settlement = ({ page }: { readonly page: SettlementFacts }) => {
  const href = useHref()
  const navigate = useNavigate()
  const may = useMay()
  const client = useClient()
  const { open: openTrace } = useTrace()
  const { open: openAbout } = useAbout()
  const notice = useNotice()
  const acts = useSettlementActs(client.clientId)
  const said = useSaid(client.clientId)
  const oneAtATime = useOneAtATime()
  const [pointed, setPointed] = useState<Pointed>(null)
  const [linesOf, setLinesOf] = useState<number | null>(null)
  const [asideOpen, setAsideOpen] = useState(false)
  const items = useMemo(() => arrangeStatement(page.statement), [page.statement])
  const beside = useMemo(() => layBeside(page, items), [page, items])
  const key = { source: page.source, key: page.key, currency: page.currency }
  // Along the list that one came from; opened by its address, along all settlements of its source.
  const listed = useListed()
  const addressOf = (place: typeof page.place.next) => place && href(settlementPath(place))
  const [previous, next] = listed
    ? [listed.previous, listed.next]
    : [addressOf(page.place.previous), addressOf(page.place.next)]
  const go = (to: string | null) => to !== null && void navigate(to, { state: listed?.state })
  const busy = acts.post.isPending || acts.takeBack.isPending
  const canPost = page.state === 'proposed' && !busy
  const post = () => {
    if (canPost)
      oneAtATime(over =>
        acts.post.mutate([key], {
          onError: notice.refuse,
          onSettled: over,
          onSuccess: outcome => {
            if (!outcome) return
            said.posted(outcome)
            if (outcome.posted.length > 0 && next) go(next)
          },
        }),
      )
  }
  const back = () => {
    if (page.state === 'posted' && !busy)
      oneAtATime(over =>
        acts.takeBack.mutate([key], {
          onSuccess: outcome => outcome && said.takenBack(outcome),
          onError: notice.refuse,
          onSettled: over,
        }),
      )
  }
  useKey('p', 'post it', post)
  useKey('b', 'take it back', back)
  useKey('j', 'next settlement', () => go(next))
  useKey('k', 'previous settlement', () => go(previous))
  const about: About = {
    subject: 'settlement',
    key: subjectKey(page.source, page.key, page.currency),
    title: `settlement ${page.name}`,
    link: settlementPath(key),
  }
  useKey('n', 'notes and history', () => openAbout(about))
  useKey('t', 'trace what it comes to', () => openTrace({ at: 'settlement', ...key }))
  const isLit = (item: StatementItem, line: PlacedLine): boolean => {
    if (pointed === null || item.type !== 'row' || !item.row.to.includes(line.place)) return false
    return 'item' in pointed ? items[pointed.item] === item : pointed.place === line.place
  }
  const placed = beside.right.flatMap(row => (row.type === 'line' ? [row.line] : []))
  return (
    <Page
      links={
        <>
          <Link to={href('/settlements')}>Settlements</Link>
          <Span color="muted" aria-hidden="true">
            ›
          </Span>
          <Link to={href(`/settlements?source=${page.source}`)}>{page.sourceName}</Link>
        </>
      }
      title={page.name}
      facts={
        <>
          <span>{rangeText(page.from, page.to)}</span>
          <StateMark state={page.state} />
          <span>
            {countText(page.lines, 'line')} · {countText(page.orders, 'order')} · {footing(page)}
          </span>
          {page.generation > 1 ? <span>posted {page.generation} times</span> : null}
        </>
      }
      actions={
        <Flex color="muted" gap="10px" align="center">
          <AboutButton plain of={about} />
          <Button variant="ghost" disabled={!previous} onClick={() => go(previous)}>
            ‹ <Kbd>k</Kbd>
          </Button>
          {listed ? listed.index + 1 : page.place.count - page.place.index + 1} of{' '}
          {listed ? listed.count : page.place.count}
          <Button variant="ghost" disabled={!next} onClick={() => go(next)}>
            <Kbd>j</Kbd> ›
          </Button>
        </Flex>
      }
    >
      <BlockList page={page} />
      <Corrections
        page={page}
        busy={acts.correct.isPending}
        onBook={() =>
          acts.correct.mutate(key, { onSuccess: () => notice.say('The correction is booked.'), onError: notice.refuse })
        }
      />
      {linesOf !== null && items[linesOf]?.type === 'row' ? (
        <LinesTable
          settlement={page}
          row={(items[linesOf] as { row: (typeof page.statement)[number] }).row}
          onClose={() => setLinesOf(null)}
        />
      ) : (
        <Flex
          align={{ base: 'stretch', lg: 'flex-start' }}
          direction={{ base: 'column', lg: 'row' }}
          gap={{ base: '16px', lg: '0' }}
          minW={{ lg: '960px' }}
        >
          <Box flex="0 0 37%">
            <StatementSheet
              settlement={page}
              items={items}
              left={beside.left}
              lit={item => placed.some(line => isLit(item, line))}
              onPoint={index => setPointed(index === null ? null : { item: index })}
              onLines={setLinesOf}
            />
          </Box>
          <Box hideBelow="lg">
            <LinkLines beside={beside} items={items} isLit={isLit} />
          </Box>
          <Box flex="1" minW="0">
            {page.entries.length > 0 ? (
              <EntrySheet
                page={page}
                rows={beside.right}
                lit={line => items.some(item => isLit(item, line))}
                onPoint={place => setPointed(place === null ? null : { place })}
              />
            ) : (
              <Box bg="sheet" borderWidth="1px" borderColor="hairline" p="14px" color="muted">
                No entry is composed while something blocks it. The ways in which each figure would go are drawn as soon
                as it is whole.
              </Box>
            )}
            <Explanation page={page} items={items} pointed={pointed} placed={placed} />
            <Earlier page={page} />
          </Box>
        </Flex>
      )}
      <FootBar>
        {page.state === 'posted' ? (
          <>
            <Act right="post" disabled={busy} onClick={back}>
              Take back
            </Act>
            <AskConsent
              right="post"
              what={`take back ${page.name}`}
              wanted={() => ({ sort: 'take_back', keys: [key] })}
            />
            {may('post') ? <Kbd>b</Kbd> : null}
          </>
        ) : (
          <>
            <Act right="post" variant="solid" disabled={!canPost} onClick={post}>
              Post and next
            </Act>
            <AskConsent
              right="post"
              disabled={page.state !== 'proposed'}
              what={`post ${page.name}`}
              wanted={() => ({ sort: 'post', keys: [key] })}
            />
            {may('post') ? <Kbd>p</Kbd> : may('settle') ? null : <Whose right="post" />}
          </>
        )}
        {page.state === 'blocked' || page.state === 'proposed' ? (
          <Act right="settle" onClick={() => setAsideOpen(true)}>
            Set aside
          </Act>
        ) : null}
        {page.state === 'set_aside' ? (
          <Act right="settle" onClick={() => acts.takeUp.mutate([key], { onError: notice.refuse })}>
            Take up again
          </Act>
        ) : null}
        <Box color="muted" flex="1">
          {consequence(page, client.locale)}
        </Box>
        <Button onClick={() => openTrace({ at: 'settlement', ...key })}>Trace</Button>
        <Kbd>t</Kbd>
      </FootBar>
      <SetAsideDialog
        open={asideOpen}
        what="1 settlement"
        hint="the proof keeps counting it."
        onClose={() => setAsideOpen(false)}
        onDone={reason =>
          acts.setAside.mutate(
            { keys: [key], reason },
            {
              onSuccess: () => {
                setAsideOpen(false)
                said.setAside([key])
              },
              onError: notice.refuse,
            },
          )
        }
      />
    </Page>
  )
}

const footing = (page: SettlementFacts): string => {
  const difference = footingDifference(page, page.balance)
  if (difference === null) return 'states no balances'
  return Number(difference) === 0
    ? 'foots: opening balance and lines come to the closing balance'
    : 'does not foot: opening balance and lines do not come to the closing balance'
}

const consequence = (page: SettlementFacts, locale: string): string => {
  const money = (minor: number) => `${currencySign(page.currency)} ${amountText(minor, page.currency, locale)}`
  const journals = page.entries.filter(entry => entry.document === 'journal')
  const transfers = page.entries.filter(entry => entry.document === 'transfer')
  switch (page.state) {
    case 'proposed':
      return `Posts ${countText(journals.length, 'entry', 'entries')}${journals[0] ? ` dated ${dayText(journals[0].date)}` : ''}, ${money(page.balance + page.payout)} into clearing${transfers[0] ? `, and the transfer of ${dayText(transfers[0].date)}` : ''}. Can be taken back.`
    case 'posted':
      return 'Taking it back posts mirror entries of the same dates; nothing is deleted, and it can be posted again.'
    case 'blocked':
      return 'Nothing is posted while it is blocked.'
    case 'set_aside':
      return `Set aside: ${page.setAsideReason ?? ''}`
    case 'elsewhere':
      return 'Booked elsewhere: it ended before its source’s first day in these books, and the opening balances hold it.'
  }
}

const Explanation = ({
  page,
  items,
  pointed,
  placed,
}: {
  readonly page: SettlementFacts
  readonly items: readonly StatementItem[]
  readonly pointed: Pointed
  readonly placed: readonly PlacedLine[]
}) => {
  if (pointed === null || !('item' in pointed))
    return (
      <Box color="muted" textStyle="small" mt="8px" minH="38px">
        Point at a row to see where it goes; press an amount to trace it, a number of lines to list them.
      </Box>
    )
  const item = items[pointed.item]
  if (item?.type !== 'row') return <Box mt="8px" minH="38px" />
  const targets = placed.filter(line => item.row.to.includes(line.place))
  return (
    <Box textStyle="small" mt="8px" minH="38px">
      {kindText(item.row.kind, item.row.category)} <Amount minor={item.row.amount} currency={page.currency} /> in{' '}
      {countText(item.row.lines, 'line')} goes into{' '}
      {targets.length === 0
        ? 'nothing yet'
        : targets
            .map(
              line =>
                `${line.body.account} ${line.body.accountName}${line.body.taxCode ? ` (${line.body.taxCode})` : ''}`,
            )
            .join(', ')}
      .
    </Box>
  )
}

const Earlier = ({ page }: { readonly page: SettlementFacts }) => {
  const href = useHref()
  if (page.earlier.length === 0) return null
  return (
    <Box color="muted" textStyle="small" mt="8px">
      Earlier:{' '}
      {page.earlier.map((entry, index) => (
        <span key={entry.number}>
          {index > 0 ? ', ' : ''}
          <Link to={href(`/books/entries/${entry.number}`)}>
            {entry.document} {entry.number}
          </Link>{' '}
          of {dateText(entry.date)}
        </span>
      ))}
    </Box>
  )
}
