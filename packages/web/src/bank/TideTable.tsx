import { Box } from '@chakra-ui/react'
import { dayNumber } from '@culvert/core'
import { useClient } from '../course/ClientContext.tsx'
import { amountText } from '../ui/formats.ts'
import type { Tide, TideGroup, TideMark, TideTone } from './arrangeTide.ts'
import './tide.css'

const weekdays = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su']
const weekday = (date: string): number => (dayNumber(date) + 3) % 7
const monthNames = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

const strokes: Record<TideTone, { color: string; dash?: string }> = {
  confirmed: { color: 'var(--bar)' },
  certain: { color: 'var(--ink)' },
  likely: { color: 'var(--slate)', dash: '6 3' },
  possible: { color: 'var(--ochre)', dash: '3 3' },
  alone: { color: 'var(--crimson)' },
}

interface TideTableProps {
  readonly tide: Tide
  readonly currency: string
  readonly selected: string | null
  readonly onSelect: (group: TideGroup) => void
}

/** One axis of days to scale: payouts leave it at the left, deposits meet it at the right, the lag is a slope. */
export const TideTable = ({ tide, currency, selected, onSelect }: TideTableProps) => {
  const { locale } = useClient()
  const label = (name: string, amount: number, group: TideGroup) =>
    `${name} ${amountText(amount, currency, locale)}, ${group.tone}`
  const markClass = (mark: TideMark<unknown>) =>
    `tide-mark ${mark.group.tone} ${mark.group.id === selected ? 'selected' : ''}`
  return (
    <Box bg="var(--sheet)" borderWidth="1px" borderColor="var(--hairline)" minW="980px">
      <div className="tide-head">
        <span className="day">Day</span>
        <span className="from">left the clearing accounts</span>
        <span className="to">reached the bank</span>
      </div>
      <div className="tide" style={{ height: tide.height }}>
        {tide.days.map(({ date, top, height }, index) => (
          <div key={date} className={`tide-day ${weekday(date) > 4 ? 'weekend' : ''}`} style={{ top, height }}>
            <span>
              {weekdays[weekday(date)]} {Number(date.slice(8))}
              {index === 0 || date.endsWith('-01') ? ` ${monthNames[Number(date.slice(5, 7)) - 1]}` : ''}
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
          {tide.left.flatMap(from =>
            tide.right
              .filter(to => to.group.id === from.group.id)
              .map(to => {
                const stroke = strokes[from.group.tone]
                const lit = from.group.id === selected
                return (
                  <path
                    key={`${from.item.id} ${to.item.id}`}
                    d={`M0 ${from.y} H40 L210 ${to.y} H250`}
                    fill="none"
                    stroke={lit ? 'var(--plum)' : stroke.color}
                    strokeWidth={lit ? 2.4 : 1.3}
                    strokeDasharray={stroke.dash}
                    vectorEffect="non-scaling-stroke"
                  />
                )
              }),
          )}
        </svg>
        {tide.left.map(mark => (
          <button
            key={mark.item.id}
            type="button"
            className={`${markClass(mark)} left`}
            style={{ top: mark.y - 14 }}
            aria-pressed={mark.group.id === selected}
            aria-label={label(`Payout ${mark.item.sourceName} ${mark.item.key}`, mark.item.amount, mark.group)}
            onClick={() => onSelect(mark.group)}
          >
            <span className="name">
              {mark.item.sourceName} {mark.item.key.replace(/^day:/, '')}
              {mark.group.tone === 'alone' ? <span className="crimson small"> ▲ not in the bank</span> : null}
            </span>
            <span className="sum">{amountText(mark.item.amount, currency, locale)}</span>
            <i aria-hidden="true" />
          </button>
        ))}
        {tide.right.map(mark => (
          <button
            key={mark.item.id}
            type="button"
            className={`${markClass(mark)} right`}
            style={{ top: mark.y - 14 }}
            aria-pressed={mark.group.id === selected}
            aria-label={label(`Bank line ${mark.item.description}`, mark.item.amount, mark.group)}
            onClick={() => onSelect(mark.group)}
          >
            <i aria-hidden="true" />
            <span className="sum">{amountText(mark.item.amount, currency, locale)}</span>
            <span className="name">
              {mark.item.description || mark.item.id}
              {mark.group.tone === 'alone' ? <span className="muted small"> alone</span> : null}
            </span>
          </button>
        ))}
      </div>
    </Box>
  )
}
