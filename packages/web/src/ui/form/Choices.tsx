import { Box, RadioGroup, Span } from '@chakra-ui/react'
import type { ReactNode } from 'react'

export interface ChoiceOf<Value extends string> {
  readonly value: Value
  readonly text: ReactNode
  /** What choosing it comes to. */
  readonly detail?: ReactNode
  readonly disabled?: boolean
}

interface ChoicesProps<Value extends string> {
  readonly label: string
  readonly choices: readonly ChoiceOf<Value>[]
  readonly value: Value | null
  readonly onChange: (value: Value) => void
  readonly disabled?: boolean
}

// The input lies over its line: what points at it meets the control itself.
const over = {
  clip: 'auto',
  clipPath: 'none',
  position: 'absolute',
  inset: 0,
  width: '100%',
  height: '100%',
  margin: 0,
  opacity: 0,
  cursor: 'inherit',
} as const

/** One of a few, each said in a line. */
export const Choices = <Value extends string>({
  label,
  choices,
  value,
  onChange,
  disabled = false,
}: ChoicesProps<Value>) => (
  <RadioGroup.Root
    aria-label={label}
    disabled={disabled}
    value={value}
    onValueChange={details => {
      const chosen = choices.find(one => one.value === details.value)
      if (chosen) onChange(chosen.value)
    }}
  >
    {choices.map(one => (
      <RadioGroup.Item key={one.value} value={one.value} disabled={one.disabled ?? false}>
        <RadioGroup.ItemHiddenInput style={over} />
        <RadioGroup.ItemIndicator />
        <RadioGroup.ItemText>
          <Box>
            {one.text}{' '}
            {one.detail ? (
              <Span color="muted" textStyle="small" ml="8px">
                {one.detail}
              </Span>
            ) : null}
          </Box>
        </RadioGroup.ItemText>
      </RadioGroup.Item>
    ))}
  </RadioGroup.Root>
)
