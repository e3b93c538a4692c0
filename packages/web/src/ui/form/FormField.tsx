import { Field, type FieldRootProps } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface FormFieldProps extends FieldRootProps {
  readonly label: ReactNode
  /** What is asked for, or what it decides. */
  readonly hint?: ReactNode
  /** What is wrong with what stands in it. */
  readonly fault?: string | null | undefined
}

/** A field with its name, what it is for, and what is wrong with it. */
export const FormField = ({ label, hint, fault, children, ...root }: FormFieldProps) => (
  // One of a width of its own keeps it beside one that takes the rest.
  <Field.Root invalid={Boolean(fault)} flexShrink={{ md: root.w === '100%' ? 1 : 0 }} {...root}>
    <Field.Label>{label}</Field.Label>
    {children}
    {fault ? (
      <Field.ErrorText>
        <span aria-hidden="true">▲ </span>
        {fault}
      </Field.ErrorText>
    ) : hint ? (
      <Field.HelperText>{hint}</Field.HelperText>
    ) : null}
  </Field.Root>
)
