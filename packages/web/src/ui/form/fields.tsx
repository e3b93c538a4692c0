import { Input, type InputProps } from '@chakra-ui/react'
import { printAmount, typedAmount } from '@culvert/core'
import { type ReactNode, useState } from 'react'
import { type Control, type FieldPath, type FieldValues, useController } from 'react-hook-form'
import { useClient } from '../../context/ClientContext.tsx'
import { DateInput } from '../DateInput.tsx'
import { Select } from '../Select.tsx'
import { FormField } from './FormField.tsx'

interface BoundProps<Values extends FieldValues> {
  // biome-ignore lint/suspicious/noExplicitAny: what a form makes of its values is nothing to its fields
  readonly control: Control<Values, any, any>
  readonly name: FieldPath<Values>
  readonly label: ReactNode
  readonly hint?: ReactNode
  readonly w?: string
}

/** A field of a form in which a line of text is typed. */
export const TextField = <Values extends FieldValues>({
  control,
  name,
  label,
  hint,
  w = '100%',
  ...input
}: BoundProps<Values> & Pick<InputProps, 'placeholder' | 'inputMode' | 'textAlign' | 'autoFocus' | 'disabled'>) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <FormField label={label} hint={hint} fault={fieldState.error?.message} w={w}>
      <Input w="100%" {...input} {...field} value={field.value ?? ''} />
    </FormField>
  )
}

/** A field in which a date is typed or chosen; its value is a local date, or empty. */
export const DateField = <Values extends FieldValues>({
  control,
  name,
  label,
  hint,
  w = '170px',
}: BoundProps<Values>) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <FormField label={label} hint={hint} fault={fieldState.error ? 'Write a day, like 5 Mar 2026.' : null} w={w}>
      <DateInput w="100%" value={field.value ?? ''} onChange={field.onChange} onBlur={field.onBlur} />
    </FormField>
  )
}

/** A field in which one of a few is chosen. */
export const SelectField = <Values extends FieldValues>({
  control,
  name,
  label,
  hint,
  w = '100%',
  children,
}: BoundProps<Values> & { readonly children: ReactNode }) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <FormField label={label} hint={hint} fault={fieldState.error?.message} w={w}>
      <Select w="100%" {...field} value={field.value ?? ''}>
        {children}
      </Select>
    </FormField>
  )
}

/** A field in which an amount is typed, with the client's marks or as a sum; its value is in minor units, undefined while it is none. */
export const AmountField = <Values extends FieldValues>({
  control,
  name,
  label,
  hint,
  w = '140px',
  currency,
}: BoundProps<Values> & { readonly currency: string }) => {
  const { locale } = useClient()
  const { field, fieldState } = useController({ control, name })
  const [text, setText] = useState(typeof field.value === 'number' ? printAmount(field.value, currency, locale) : '')
  const typed = text.trim() === '' ? null : typedAmount(text, currency, locale)
  const fault =
    typed && !typed.ok
      ? `An amount in ${currency}, like ${printAmount(-123_450, currency, locale)}.`
      : fieldState.error?.message
  return (
    <FormField label={label} hint={hint} fault={fieldState.isTouched || fieldState.error ? fault : null} w={w}>
      <Input
        w="100%"
        textAlign="right"
        inputMode="decimal"
        name={field.name}
        ref={field.ref}
        onBlur={field.onBlur}
        value={text}
        onChange={event => {
          const next = event.target.value
          setText(next)
          const read = next.trim() === '' ? null : typedAmount(next, currency, locale)
          field.onChange(read === null ? null : read.ok ? read.minor : undefined)
        }}
      />
    </FormField>
  )
}
