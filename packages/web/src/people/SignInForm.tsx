import { Button, Flex, Span } from '@chakra-ui/react'
import { secondFactorBody, signInBody } from '@culvert/contract'
import { TextField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { useSignInActs } from './peopleQueries.ts'

/** Says what a try was refused for, under what was typed. */
export const Refusal = ({ of }: { readonly of: Error | null }) =>
  of ? (
    <Span display="block" role="alert" color="crimson" textStyle="small" mt="10px">
      <span aria-hidden="true">▲ </span>
      {of.message}
    </Span>
  ) : null

interface SignInFormProps {
  /** Where it is known already who it is. */
  readonly email?: string
  readonly onIn?: () => void
}

/** Address and password; then, where there is one, the second factor. */
export const SignInForm = ({ email = '', onIn }: SignInFormProps) => {
  const acts = useSignInActs(onIn)
  const { signIn } = acts
  const form = useSchemaForm(signInBody, { email, password: '' }, { grows: true })
  if (signIn.data?.next === 'second_factor')
    return <SecondFactorForm of={acts.secondFactor} onBack={() => signIn.reset()} />
  return (
    <form
      noValidate
      onSubmit={onSubmit(
        signIn.isPending,
        form.handleSubmit(body => signIn.mutate(body)),
      )}
    >
      <Flex direction="column" gap="12px">
        <TextField
          control={form.control}
          name="email"
          label="Address"
          inputMode="email"
          type="email"
          autoComplete="username"
          autoFocus={email === ''}
        />
        <TextField
          control={form.control}
          name="password"
          label="Password"
          type="password"
          autoComplete="current-password"
          autoFocus={email !== ''}
        />
      </Flex>
      <Refusal of={signIn.error} />
      <Button type="submit" variant="solid" mt="16px" disabled={signIn.isPending}>
        {signIn.isPending ? 'Signing in …' : 'Sign in'}
      </Button>
    </form>
  )
}

const SecondFactorForm = ({
  of,
  onBack,
}: {
  readonly of: ReturnType<typeof useSignInActs>['secondFactor']
  readonly onBack: () => void
}) => {
  const form = useSchemaForm(secondFactorBody, { code: '' })
  return (
    <form
      noValidate
      onSubmit={onSubmit(
        of.isPending,
        form.handleSubmit(body => of.mutate(body)),
      )}
    >
      <TextField
        control={form.control}
        name="code"
        label="Code"
        hint="The six digits that your authenticator shows, or one of your recovery codes."
        autoComplete="one-time-code"
        autoFocus
      />
      <Refusal of={of.error} />
      <Flex gap="10px" mt="16px">
        <Button type="submit" variant="solid" disabled={of.isPending}>
          Go on
        </Button>
        <Button onClick={onBack}>Back</Button>
      </Flex>
    </form>
  )
}
