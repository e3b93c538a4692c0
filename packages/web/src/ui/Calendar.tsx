import { Box } from '@chakra-ui/react'
import { addDays } from '@culvert/core'
import { DayPicker } from 'react-day-picker'
import 'react-day-picker/style.css'

interface CalendarProps {
  /** A local date; empty: none. */
  readonly value: string
  /** The day that it opens at where none is chosen, a local date. */
  readonly near: string
  readonly onPick: (date: string) => void
}

// The picker knows moments of this browser's zone; a local date is the day that they show there.
const dayOf = (date: string): Date =>
  new Date(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8)))
const dateOf = (day: Date): string =>
  addDays(
    '0001-01-01',
    Math.round((Date.UTC(day.getFullYear(), day.getMonth(), day.getDate()) - Date.UTC(1, 0, 1)) / 86_400_000),
  )

const look = {
  p: '8px',
  fontSize: '13px',
  '& .rdp-root': {
    '--rdp-accent-color': '{colors.plum}',
    '--rdp-accent-background-color': '{colors.plum.wash}',
    '--rdp-day-width': '32px',
    '--rdp-day-height': '30px',
    '--rdp-day_button-width': '30px',
    '--rdp-day_button-height': '28px',
    '--rdp-day_button-border-radius': '2px',
    '--rdp-selected-font': 'inherit',
  },
  '& .rdp-month_caption': { fontSize: '14px', fontWeight: '600', px: '8px' },
  '& .rdp-chevron': { boxSize: '18px' },
} as const

/** A month to choose a day in; weeks begin on Monday. */
const Calendar = ({ value, near, onPick }: CalendarProps) => (
  <Box css={look}>
    <DayPicker
      mode="single"
      required
      weekStartsOn={1}
      showOutsideDays
      autoFocus
      defaultMonth={dayOf(value || near)}
      selected={value ? dayOf(value) : undefined}
      onSelect={day => day && onPick(dateOf(day))}
    />
  </Box>
)

export default Calendar
