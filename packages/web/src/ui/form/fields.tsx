import { Input, type InputProps, Span, Textarea, type TextareaProps } from '@chakra-ui/react'
import { printAmount, typedAmount } from '@culvert/core'
import { type ChangeEvent, type ReactNode, useState } from 'react'
import { type Control, type FieldPath, type FieldValues, useController } from 'react-hook-form'
import { useClient } from '../../context/ClientContext.tsx'
import { DateInput } from '../DateInput.tsx'
import { Select } from '../Select.tsx'
import { Check } from './Check.tsx'
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
}: BoundProps<Values> &
  Pick<InputProps, 'placeholder' | 'inputMode' | 'textAlign' | 'autoFocus' | 'disabled' | 'type' | 'autoComplete'>) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <FormField label={label} hint={hint} fault={fieldState.error?.message} w={w}>
      <Input w="100%" {...input} {...field} value={field.value ?? ''} />
    </FormField>
  )
}

/** A field of a form in which a few sentences are written. */
export const WordsField = <Values extends FieldValues>({
  control,
  name,
  label,
  hint,
  w = '100%',
  ...area
}: BoundProps<Values> & Pick<TextareaProps, 'placeholder' | 'rows' | 'autoFocus'>) => {
  const { field, fieldState } = useController({ control, name })
  return (
    <FormField label={label} hint={hint} fault={fieldState.error?.message} w={w}>
      <Textarea rows={3} {...area} {...field} value={field.value ?? ''} />
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

interface AmountInputProps<Values extends FieldValues> extends Pick<BoundProps<Values>, 'control' | 'name'> {
  readonly currency: string
}

/** What an amount is typed in, with the client's marks or as a sum: its value is in minor units, null while nothing is typed, undefined while it is none. */
const useAmountInput = <Values extends FieldValues>({ control, name, currency }: AmountInputProps<Values>) => {
  const { locale } = useClient()
  const { field, fieldState } = useController({ control, name })
  const [text, setText] = useState(typeof field.value === 'number' ? printAmount(field.value, currency, locale) : '')
  const read = (typed: string) => (typed.trim() === '' ? null : typedAmount(typed, currency, locale))
  const typed = read(text)
  const fault =
    typed && !typed.ok
      ? `An amount in ${currency}, like ${printAmount(-123_450, currency, locale)}.`
      : fieldState.error?.message
  return {
    fault: fieldState.isTouched || fieldState.error ? fault : undefined,
    input: {
      textAlign: 'right',
      inputMode: 'decimal',
      name: field.name,
      ref: field.ref,
      onBlur: field.onBlur,
      value: text,
      onChange: (event: ChangeEvent<HTMLInputElement>) => {
        setText(event.target.value)
        const next = read(event.target.value)
        field.onChange(next === null ? null : next.ok ? next.minor : undefined)
      },
    } as const,
  }
}

/** A field in which an amount is typed. */
export const AmountField = <Values extends FieldValues>({
  label,
  hint,
  w = '140px',
  ...bound
}: BoundProps<Values> & { readonly currency: string }) => {
  const { input, fault } = useAmountInput(bound)
  return (
    <FormField label={label} hint={hint} fault={fault} w={w}>
      <Input w="100%" {...input} />
    </FormField>
  )
}

/** The same where its name and what is wrong with it stand elsewhere: beside it, or over a column. */
export const AmountInput = <Values extends FieldValues>({
  label,
  w = '120px',
  ...bound
}: AmountInputProps<Values> & { readonly label: string; readonly w?: string }) => {
  const { input, fault } = useAmountInput(bound)
  return (
    <>
      <Input w={w} aria-label={label} aria-invalid={fault ? true : undefined} {...input} />
      {fault ? (
        <Span display="block" role="alert" color="crimson" textStyle="small">
          <span aria-hidden="true">▲ </span>
          {fault}
        </Span>
      ) : null}
    </>
  )
}

/** Yes or no of a form, with what is said beside it. */
export const CheckField = <Values extends FieldValues>({
  control,
  name,
  label,
}: Pick<BoundProps<Values>, 'control' | 'name' | 'label'>) => {
  const { field } = useController({ control, name })
  return (
    <Check checked={field.value === true} onChange={field.onChange}>
      {label}
    </Check>
  )
}
