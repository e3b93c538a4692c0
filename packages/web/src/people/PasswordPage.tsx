import { Box, Button } from '@chakra-ui/react'
import { forgottenBody, resetPasswordBody } from '@culvert/contract'
import { useState } from 'react'
import { Link } from 'react-router'
import { TextField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Plain } from '../ui/Plain.tsx'
import { useSignInActs } from './peopleQueries.ts'
import { Refusal } from './SignInForm.tsx'

/** A forgotten password: asks for the link, or, come by it, for a new one. */
export const PasswordPage = () => {
  const [token] = useState(() => window.location.hash.slice(1))
  return token === '' ? <Forgotten /> : <NewPassword token={token} />
}

const Forgotten = () => {
  const { forgotten } = useSignInActs()
  const form = useSchemaForm(forgottenBody, { email: '' })
  return (
    <Plain title="Forgotten password">
      {forgotten.isSuccess ? (
        <Box role="status">
          If somebody signs in with this address, a letter is on its way to it. Its link is good for an hour. Where this
          Culvert sends no letters, the practice’s owner lets you in anew.
        </Box>
      ) : (
        <form
          noValidate
          onSubmit={onSubmit(
            forgotten.isPending,
            form.handleSubmit(body => forgotten.mutate(body)),
          )}
        >
          <TextField
            control={form.control}
            name="email"
            label="Address"
            type="email"
            autoComplete="username"
            autoFocus
          />
          <Refusal of={forgotten.error} />
          <Button type="submit" variant="solid" mt="16px" disabled={forgotten.isPending}>
            Send a link
          </Button>
        </form>
      )}
      <Box mt="14px" textStyle="small">
        <Link to="/">Sign in</Link>
      </Box>
    </Plain>
  )
}

const NewPassword = ({ token }: { readonly token: string }) => {
  const { reset } = useSignInActs()
  const form = useSchemaForm(resetPasswordBody, { token, password: '' })
  return (
    <Plain title="A new password">
      {reset.isSuccess ? (
        <Box role="status">
          The password is changed, and whoever was signed in with the old one is not any more.{' '}
          <Link to="/">Sign in</Link>
        </Box>
      ) : (
        <form
          noValidate
          onSubmit={onSubmit(
            reset.isPending,
            form.handleSubmit(body => reset.mutate(body)),
          )}
        >
          <TextField
            control={form.control}
            name="password"
            label="New password"
            hint="At least 12 characters; a few words do well."
            type="password"
            autoComplete="new-password"
            autoFocus
          />
          <Refusal of={reset.error} />
          <Button type="submit" variant="solid" mt="16px" disabled={reset.isPending}>
            Change it
          </Button>
        </form>
      )}
    </Plain>
  )
}
