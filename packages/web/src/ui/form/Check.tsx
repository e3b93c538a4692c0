import { Checkbox } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface CheckProps {
  readonly checked: boolean | 'indeterminate'
  readonly disabled?: boolean
  readonly label?: string
  readonly onChange: (checked: boolean, ranging: boolean) => void
  readonly children?: ReactNode
}

/** Yes or no. Told apart is whether shift was held, which in tables means a range. */
export const Check = ({ checked, disabled = false, label, onChange, children }: CheckProps) => {
  let ranging = false
  return (
    <Checkbox.Root
      checked={checked}
      disabled={disabled}
      onClickCapture={event => {
        ranging = event.shiftKey
      }}
      onCheckedChange={details => onChange(details.checked === true, ranging)}
    >
      <Checkbox.HiddenInput aria-label={label} />
      <Checkbox.Control />
      {children ? <Checkbox.Label>{children}</Checkbox.Label> : null}
    </Checkbox.Root>
  )
}
