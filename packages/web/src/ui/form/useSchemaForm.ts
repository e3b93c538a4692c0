import { zodResolver } from '@hookform/resolvers/zod'
import { type DefaultValues, type FieldValues, type UseFormReturn, useForm } from 'react-hook-form'
import type { z } from 'zod'

/**
 * A form whose fields are checked by the schema that the server checks them by. A field says what is wrong with it once it was left, and all of them
 * once it was tried to save; `values` are handed over as the schema's input. Of a form whose lists grow nothing is said before it was tried to save: a
 * row that was just added would be found wanting as it comes.
 */
export const useSchemaForm = <Input extends FieldValues, Output>(
  schema: z.ZodType<Output, Input>,
  defaultValues: DefaultValues<Input>,
  { grows = false }: { readonly grows?: boolean } = {},
): UseFormReturn<Input, unknown, Output> =>
  useForm<Input, unknown, Output>({
    resolver: zodResolver(schema),
    defaultValues,
    mode: grows ? 'onSubmit' : 'onTouched',
  })
