import { Button, Flex, Input, type InputProps, Popover, Portal } from '@chakra-ui/react'
import { CalendarDays } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { dateText } from './formats.ts'
import { typedDate } from './typedDate.ts'

const Calendar = lazy(() => import('./Calendar.tsx'))

interface DateInputProps extends Omit<InputProps, 'value' | 'onChange' | 'type' | 'w'> {
  /** A local date, YYYY-MM-DD; empty: none. */
  readonly value: string
  /** Told of each date that is typed whole or chosen, and of the empty one. */
  readonly onChange: (date: string) => void
  readonly w?: string
}

/** Whether no further digit could make another date of it. */
const isWhole = (text: string): boolean => /^\d{4}-\d\d-\d\d$/.test(text) || /\D\d{4}$/.test(text)

/** A date as it is written where the client is, typed or chosen in a calendar. */
export const DateInput = ({ value, onChange, w = '160px', disabled, m, mt, mb, ml, mr, ...rest }: DateInputProps) => {
  const { locale, latest } = useClient()
  const [typed, setTyped] = useState<string | null>(null)
  const [open, setOpen] = useState(false)
  const tell = (date: string | null): void => {
    if (date !== null && date !== value) onChange(date)
  }
  const wrong = typed !== null && typed.trim() !== '' && typedDate(typed, locale) === null
  return (
    <Flex
      as="span"
      display="inline-flex"
      w={w}
      maxW="100%"
      position="relative"
      verticalAlign="middle"
      {...{ m, mt, mb, ml, mr }}
    >
      <Input
        {...rest}
        w="100%"
        pr="30px"
        autoComplete="off"
        placeholder="as 5 Mar 2026"
        title={wrong ? 'This is no date; write it like 5 Mar 2026' : undefined}
        aria-invalid={wrong || undefined}
        disabled={disabled}
        value={typed ?? dateText(value)}
        onChange={event => {
          const text = event.target.value
          setTyped(text)
          const date = text.trim() === '' ? '' : typedDate(text, locale)
          // A year of two digits may become one of four, and a day of one digit one of two: such count once the field is left.
          if (date !== null && (date === '' || isWhole(text.trim()))) tell(date)
        }}
        onBlur={() => {
          if (typed === null) return
          tell(typed.trim() === '' ? '' : typedDate(typed, locale))
          // What is no date stays as it was typed, and says so.
          if (!wrong) setTyped(null)
        }}
      />
      <Popover.Root open={open} onOpenChange={details => setOpen(details.open)} lazyMount unmountOnExit>
        <Popover.Trigger asChild>
          <Button
            variant="plain"
            position="absolute"
            right="2px"
            top="50%"
            transform="translateY(-50%)"
            h="26px"
            color="muted"
            disabled={disabled}
            aria-label="Choose the date in a calendar"
          >
            <CalendarDays size={15} aria-hidden="true" />
          </Button>
        </Popover.Trigger>
        <Portal>
          <Popover.Positioner>
            <Popover.Content>
              <Suspense fallback={null}>
                <Calendar
                  value={value}
                  near={latest ?? '2026-01-01'}
                  onPick={date => {
                    setTyped(null)
                    onChange(date)
                    setOpen(false)
                  }}
                />
              </Suspense>
            </Popover.Content>
          </Popover.Positioner>
        </Portal>
      </Popover.Root>
    </Flex>
  )
}
