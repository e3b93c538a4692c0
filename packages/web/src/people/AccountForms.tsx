import { Button, Flex } from '@chakra-ui/react'
import { changeAddressBody, changePasswordBody } from '@culvert/contract'
import { TextField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useAccountActs } from './peopleQueries.ts'

/** Changes one’s password. */
export const PasswordForm = () => {
  const notice = useNotice()
  const { changePassword } = useAccountActs()
  const form = useSchemaForm(changePasswordBody, { current: '', password: '' })
  const change = form.handleSubmit(body =>
    changePassword.mutate(body, {
      onError: notice.refuse,
      onSuccess: () => {
        form.reset({ current: '', password: '' })
        notice.say('The password is changed. Everywhere else you are signed out.')
      },
    }),
  )
  return (
    <form noValidate onSubmit={onSubmit(changePassword.isPending, change)}>
      <Flex gap="12px" align="flex-start" wrap="wrap">
        <TextField
          control={form.control}
          name="current"
          label="Current"
          type="password"
          autoComplete="current-password"
          w="190px"
        />
        <TextField
          control={form.control}
          name="password"
          label="New"
          type="password"
          autoComplete="new-password"
          w="190px"
        />
        <Button type="submit" mt="24px" disabled={changePassword.isPending}>
          Change it
        </Button>
      </Flex>
    </form>
  )
}

/** Changes one’s address, once both confirm it. */
export const AddressForm = () => {
  const notice = useNotice()
  const { changeAddress } = useAccountActs()
  const form = useSchemaForm(changeAddressBody, { password: '', email: '' })
  const change = form.handleSubmit(body =>
    changeAddress.mutate(body, {
      onError: notice.refuse,
      onSuccess: ({ mailed }) => {
        form.reset({ password: '', email: '' })
        notice.say(
          mailed
            ? 'A letter went to both addresses. It changes once both are confirmed, within a day.'
            : 'No letter could be sent, and the address stays: this Culvert sends no letters.',
        )
      },
    }),
  )
  return (
    <form noValidate onSubmit={onSubmit(changeAddress.isPending, change)}>
      <Flex gap="12px" align="flex-start" wrap="wrap">
        <TextField
          control={form.control}
          name="email"
          label="New address"
          type="email"
          autoComplete="email"
          w="220px"
        />
        <TextField
          control={form.control}
          name="password"
          label="Your password"
          type="password"
          autoComplete="current-password"
          w="190px"
        />
        <Button type="submit" mt="24px" disabled={changeAddress.isPending}>
          Change the address
        </Button>
      </Flex>
    </form>
  )
}
