import { Box, chakra, Span } from '@chakra-ui/react'
import type { BankItem, TransferItem } from '@culvert/contract'
import { dayNumber } from '@culvert/core'
import { useClient } from '../context/ClientContext.tsx'
import { amountText, countText } from '../ui/formats.ts'
import type { Tide, TideFold, TideMark, TideTone } from './arrangeTide.ts'
import './tide.css'

const weekdays = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su']
const weekday = (date: string): number => (dayNumber(date) + 3) % 7
const monthNames = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

const strokes: Record<TideTone, { color: string; dash?: string }> = {
  confirmed: { color: 'bar' },
  certain: { color: 'ink' },
  likely: { color: 'slate', dash: '6 3' },
  possible: { color: 'ochre', dash: '3 3' },
  alone: { color: 'crimson' },
  coded: { color: 'bar' },
  set_aside: { color: 'bar' },
}
const toneWords: Partial<Record<TideTone, string>> = { coded: 'coded', set_aside: 'set aside' }

interface TideTableProps {
  readonly tide: Tide
  readonly currency: string
  /** Key of the mark that the selection stands on, and the id of its group. */
  readonly at: string | null
  readonly group: string | null
  /** Keys of the marks picked to be tied by hand. */
  readonly picked: ReadonlySet<string>
  readonly onSelect: (mark: TideMark) => void
  readonly onUnfold: (fold: TideFold) => void
}

/** One axis of days to scale: payouts leave it at the left, deposits meet it at the right, the lag is a slope. */
export const TideTable = (props: TideTableProps) => {
  const { tide, group } = props
  return (
    <Box bg="sheet" borderWidth="1px" borderColor="hairline" minW="920px">
      <div className="tide-head">
        <span className="day">Day</span>
        <span className="from">left the clearing accounts</span>
        <span className="to">reached the bank</span>
      </div>
      <div className="tide" style={{ height: tide.height }}>
        {tide.days.map(({ date, to, top, height }, index) => (
          <div
            key={date}
            className={`tide-day ${to !== date ? 'run' : weekday(date) > 4 ? 'weekend' : ''}`}
            style={{ top, height }}
          >
            <span>
              {to === date
                ? `${weekdays[weekday(date)]} ${Number(date.slice(8))}${index === 0 || date.endsWith('-01') ? ` ${monthNames[Number(date.slice(5, 7)) - 1]}` : ''}`
                : runText(date, to)}
            </span>
          </div>
        ))}
        <svg
          className="tide-slopes"
          height={tide.height}
          viewBox={`0 0 250 ${tide.height}`}
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          {tide.slopes.map(slope => {
            const stroke = strokes[slope.tone]
            const lit = group !== null && slope.groups.includes(group)
            return (
              <chakra.path
                key={slope.key}
                d={`M0 ${slope.from} H40 L210 ${slope.to} H250`}
                fill="none"
                stroke={lit ? 'plum' : stroke.color}
                strokeWidth={lit ? 2.4 : 1.3}
                strokeDasharray={stroke.dash}
                vectorEffect="non-scaling-stroke"
              />
            )
          })}
        </svg>
        {tide.left.map(mark => (
          <Mark key={mark.key} {...props} mark={mark} side="left" name={payoutName(mark.item)} what="Payout" />
        ))}
        {tide.right.map(mark => (
          <Mark key={mark.key} {...props} mark={mark} side="right" name={lineName(mark.item)} what="Bank line" />
        ))}
        {tide.folds.map(fold => (
          <Fold key={`${fold.key} ${fold.side}`} {...props} fold={fold} />
        ))}
      </div>
    </Box>
  )
}

/** 2 – 27 Mar, or 24 Mar – 3 Apr where the month turns. */
const runText = (from: string, to: string): string => {
  const month = (date: string) => monthNames[Number(date.slice(5, 7)) - 1]
  const first = from.slice(0, 7) === to.slice(0, 7) ? '' : ` ${month(from)}`
  return `${Number(from.slice(8))}${first} – ${Number(to.slice(8))} ${month(to)}`
}

const payoutName = (item: TransferItem): string => `${item.sourceName} ${item.key.replace(/^day:/, '')}`
const lineName = (item: BankItem): string => item.description || item.id

const Mark = ({
  mark,
  side,
  name,
  what,
  currency,
  at,
  group,
  picked,
  onSelect,
}: TideTableProps & {
  readonly mark: TideMark
  readonly side: 'left' | 'right'
  readonly name: string
  readonly what: string
}) => {
  const { locale } = useClient()
  const { tone } = mark.group
  const amount = amountText(mark.item.amount, mark.item.currency, locale)
  const isPicked = picked.has(mark.key)
  const states = [
    'tide-mark',
    tone,
    side,
    mark.group.id === group ? 'selected' : '',
    mark.key === at ? 'here' : '',
    isPicked ? 'picked' : '',
  ]
  const aside = toneWords[tone] ?? (tone !== 'alone' ? '' : side === 'left' ? '▲ not in the bank' : 'alone')
  const parts = [
    <span key="name" className="name">
      {isPicked ? <Span color="plum">✓ </Span> : null}
      {name}
      {aside ? (
        <Span textStyle="small" color={side === 'left' && tone === 'alone' ? 'crimson' : 'muted'}>
          {' '}
          {aside}
        </Span>
      ) : null}
    </span>,
    <span key="sum" className="sum">
      {amount}
      {mark.item.currency === currency ? '' : ` ${mark.item.currency}`}
    </span>,
    <i key="dot" aria-hidden="true" />,
  ]
  return (
    <button
      type="button"
      className={states.join(' ')}
      style={{ top: mark.y - 14 }}
      data-mark={mark.key}
      data-page-keys=""
      aria-pressed={mark.group.id === group}
      aria-label={`${what} ${side === 'left' ? `${(mark.item as TransferItem).sourceName} ${(mark.item as TransferItem).key}` : (mark.item as BankItem).description} ${amount}, ${toneWords[tone] ?? tone}${isPicked ? ', picked' : ''}`}
      onClick={() => onSelect(mark)}
    >
      {side === 'left' ? parts : parts.reverse()}
    </button>
  )
}

const Fold = ({ fold, currency, onUnfold }: TideTableProps & { readonly fold: TideFold }) => {
  const { locale } = useClient()
  const words = fold.key.endsWith(' run')
    ? countText(fold.count, 'decided', 'decided')
    : countText(fold.count, fold.tone, fold.tone)
  const parts = [
    <span key="name" className="name">
      <span aria-hidden="true">▸ </span>
      {words}
    </span>,
    <span key="sum" className="sum">
      {amountText(fold.sum, currency, locale)}
    </span>,
    <i key="dot" aria-hidden="true" />,
  ]
  return (
    <button
      type="button"
      className={`tide-mark fold ${fold.tone} ${fold.side}`}
      style={{ top: fold.y - 14 }}
      aria-label={`${words} ${fold.side === 'left' ? 'payouts' : 'bank lines'}, ${amountText(fold.sum, currency, locale)}: show each`}
      onClick={() => onUnfold(fold)}
    >
      {fold.side === 'left' ? parts : parts.reverse()}
    </button>
  )
}
