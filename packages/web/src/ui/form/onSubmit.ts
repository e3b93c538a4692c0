import type { FormEvent } from 'react'

/** Submits a form once, however often it is pressed. */
export const onSubmit = (busy: boolean, submit: () => Promise<void>) => (event: FormEvent) => {
  event.preventDefault()
  event.stopPropagation()
  if (!busy) void submit()
}
