import { Box, Button, Flex } from '@chakra-ui/react'
import { acceptBody, type InvitationFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { TextField } from '../ui/form/fields.tsx'
import { onSubmit } from '../ui/form/onSubmit.ts'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { momentText, zoneText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { Plain } from '../ui/Plain.tsx'
import { invitationQuery, useSignInActs } from './peopleQueries.ts'
import { roleDoes, roleWords } from './roleWords.ts'
import { Refusal } from './SignInForm.tsx'

/** What stands behind the # of an address: it is sent to nobody. Taken out of the address bar once it is read. */
const useTokenOfLink = (): string => {
  const [token] = useState(() => window.location.hash.slice(1))
  return token
}

/** An invitation is taken here: whoever it is says their name and a password. */
export const InvitationPage = () => {
  const token = useTokenOfLink()
  const query = useQuery(invitationQuery(token))
  const { data } = query
  if (!data) return <Plain title="Invitation">{<Instead of={query} />}</Plain>
  return (
    <Plain title={data.practice === null ? 'Begin with Culvert' : `Keep books with ${data.practice}`}>
      <Box color="muted" textStyle="small" mb="14px">
        {data.invitedBy
          ? `${data.invitedBy} invites ${data.email} as ${roleWords[data.role]}: `
          : 'You are the owner: '}
        {roleDoes[data.role]}. The link is good until {momentText(data.expiresAt, zone)}, {zoneText(zone)}, once.
      </Box>
      <AcceptForm token={token} facts={data} />
    </Plain>
  )
}

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

const AcceptForm = ({ token, facts }: { readonly token: string; readonly facts: InvitationFacts }) => {
  const { accept } = useSignInActs()
  const navigate = useNavigate()
  const isFirst = facts.email === null
  const form = useSchemaForm(acceptBody, {
    token,
    name: '',
    password: '',
    ...(isFirst ? { email: '', practice: facts.practice === 'Practice' ? '' : (facts.practice ?? '') } : {}),
  })
  const take = form.handleSubmit(body =>
    accept.mutate(body, { onSuccess: () => void navigate('/', { replace: true }) }),
  )
  const { control } = form
  return (
    <form noValidate onSubmit={onSubmit(accept.isPending, take)}>
      <Flex direction="column" gap="12px">
        {isFirst ? (
          <>
            <TextField control={control} name="practice" label="Practice" hint="The firm that keeps the books." />
            <TextField control={control} name="email" label="Your address" type="email" autoComplete="username" />
          </>
        ) : (
          <input type="hidden" autoComplete="username" value={facts.email ?? ''} readOnly />
        )}
        <TextField control={control} name="name" label="Your name" autoComplete="name" />
        <TextField
          control={control}
          name="password"
          label="A password"
          hint="At least 12 characters; a few words do well."
          type="password"
          autoComplete="new-password"
        />
      </Flex>
      <Refusal of={accept.error} />
      <Button type="submit" variant="solid" mt="16px" disabled={accept.isPending}>
        Begin
      </Button>
    </form>
  )
}
