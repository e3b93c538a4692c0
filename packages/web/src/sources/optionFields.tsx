import { Box, Flex, Input, Span } from '@chakra-ui/react'
import type { SourceOptionsBody } from '@culvert/contract'
import type { ReactNode } from 'react'
import { type Control, useController } from 'react-hook-form'
import { DateInput } from '../ui/DateInput.tsx'
import { Check } from '../ui/form/Check.tsx'
import { AmountInput } from '../ui/form/fields.tsx'
import { Select } from '../ui/Select.tsx'
import { toggled } from './optionsDraft.ts'

interface OptionProps {
  readonly label: string
  /** What it decides. */
  readonly hint: string
}

interface OptionOf extends OptionProps {
  readonly control: Control<SourceOptionsBody>
  readonly name: keyof SourceOptionsBody
}

const Option = ({
  label,
  hint,
  fault,
  children,
}: OptionProps & { readonly fault?: string | undefined; readonly children: ReactNode }) => (
  <Flex px="16px" minH="44px" py="6px" gap="16px" align="center" borderBottomWidth="1px" borderColor="hairline">
    <Box w="230px" fontWeight="500" flexShrink={0}>
      {label}
    </Box>
    <Box w="270px" flexShrink={0}>
      {children}
    </Box>
    <Span color={fault ? 'crimson' : 'muted'} textStyle="small">
      {fault ?? hint}
    </Span>
  </Flex>
)

/** An option that is one of a few; an empty value is none. */
export const ChosenOption = ({
  control,
  name,
  choices,
  ...option
}: OptionOf & { readonly choices: readonly (readonly [value: string, text: string])[] }) => {
  const { field } = useController({ control, name })
  return (
    <Option {...option}>
      <Select
        aria-label={option.label}
        w="260px"
        {...field}
        value={String(field.value ?? '')}
        onChange={event => field.onChange(event.target.value || null)}
      >
        {choices.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </Select>
    </Option>
  )
}

export const YesOrNoOption = ({
  control,
  name,
  disabled = false,
  ...option
}: OptionOf & { readonly disabled?: boolean }) => {
  const { field } = useController({ control, name })
  return (
    <Option {...option}>
      <Check label={option.label} disabled={disabled} checked={field.value === true} onChange={field.onChange}>
        {field.value ? 'yes' : 'no'}
      </Check>
    </Option>
  )
}

export const AmountOption = ({ control, name, currency, ...option }: OptionOf & { readonly currency: string }) => (
  <Option {...option}>
    <AmountInput control={control} name={name} label={option.label} currency={currency} />
  </Option>
)

/** A local date, or none. */
export const DateOption = ({ control, name, ...option }: OptionOf) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <Option {...option} fault={fieldState.error && 'Write a day, like 5 Mar 2026.'}>
      <DateInput
        aria-label={option.label}
        w="170px"
        value={String(field.value ?? '')}
        onChange={value => field.onChange(value || null)}
        onBlur={field.onBlur}
      />
    </Option>
  )
}

/** A few letters that are typed; empty is none. */
export const TextOption = ({ control, name, placeholder, ...option }: OptionOf & { readonly placeholder: string }) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <Option {...option} fault={fieldState.error?.message}>
      <Input
        aria-label={option.label}
        aria-invalid={fieldState.error ? true : undefined}
        w="110px"
        placeholder={placeholder}
        {...field}
        value={String(field.value ?? '')}
        onChange={event => field.onChange(event.target.value || null)}
      />
    </Option>
  )
}

const details = ['category', 'sku', 'location'] as const
const detailText = { category: 'category', sku: 'SKU', location: 'location' }

/** By which details lines of an entry are told apart. */
export const DetailOption = ({ control, ...option }: OptionProps & Pick<OptionOf, 'control'>) => {
  const { field } = useController({ control, name: 'detail' })
  return (
    <Option {...option}>
      <Flex gap="16px">
        {details.map(detail => (
          <Check
            key={detail}
            checked={field.value.includes(detail)}
            onChange={() => field.onChange(toggled(details, field.value, detail))}
          >
            {detailText[detail]}
          </Check>
        ))}
      </Flex>
    </Option>
  )
}
