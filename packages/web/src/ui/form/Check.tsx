import { Checkbox } from '@chakra-ui/react'
import { type ReactNode, useRef } from 'react'

interface CheckProps {
  readonly checked: boolean
  readonly disabled?: boolean
  /** Its name, where no text beside it is. */
  readonly label?: string
  readonly onChange: (checked: boolean, ranging: boolean) => void
  readonly children?: ReactNode
}

// The input lies over what is drawn of it: what points at it meets the control itself.
const over = {
  clip: 'auto',
  clipPath: 'none',
  width: '15px',
  height: '15px',
  margin: 0,
  opacity: 0,
  cursor: 'inherit',
} as const

/** Yes or no. Told apart is whether shift was held, which in tables means a range. */
export const Check = ({ checked, disabled = false, label, onChange, children }: CheckProps) => {
  const ranging = useRef(false)
  return (
    <Checkbox.Root
      checked={checked}
      disabled={disabled}
      onClickCapture={event => {
        ranging.current = event.shiftKey
      }}
      onCheckedChange={details => {
        onChange(details.checked === true, ranging.current)
        ranging.current = false
      }}
    >
      <Checkbox.HiddenInput aria-label={label} style={over} />
      <Checkbox.Control />
      {/* What labels it by id outranks its name: text beside a named one is no label. */}
      {children ? label ? <span>{children}</span> : <Checkbox.Label>{children}</Checkbox.Label> : null}
    </Checkbox.Root>
  )
}
