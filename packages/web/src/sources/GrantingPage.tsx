import { Box, Button } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { momentText, zoneText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { Plain } from '../ui/Plain.tsx'
import { linkedGrantQuery, useBeginGranting } from './grantQueries.ts'
import { neverText, scopesText } from './grantText.ts'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

/** What the client's own people are asked by a link: what would be seen, what not, and the way to the service. */
export const GrantingPage = () => {
  const [token] = useState(() => window.location.hash.slice(1))
  const query = useQuery(linkedGrantQuery(token))
  const begin = useBeginGranting(token)
  const { data } = query
  if (token.length < 20) return <Plain title="A link without its end">Ask whoever sent it for the whole link.</Plain>
  if (!data) return <Plain title="Let your books be told">{<Instead of={query} />}</Plain>
  if (data.state !== 'asked')
    return (
      <Plain
        title={data.state === 'granted' ? 'Granted' : data.state === 'refused' ? 'Refused' : 'The link is good no more'}
      >
        {data.state === 'granted'
          ? `${data.practice} can see ${data.name} for the books of ${data.client}. You can end that at ${data.name} at any time.`
          : `Ask ${data.askedBy} of ${data.practice} for a new link.`}
      </Plain>
    )
  return (
    <Plain title={`Let ${data.practice} see ${data.name}`}>
      <Box mb="10px">
        {data.askedBy} of {data.practice}, who keeps the books of {data.client}, asks for it. You sign in at {data.name}{' '}
        yourself; nobody sees a password.
      </Box>
      <Box mb="6px">
        <b>Reads</b> {scopesText(data.scopes)}.
      </Box>
      <Box mb="10px">
        <b>Never</b> {neverText(data.scopes)}.
      </Box>
      <Box color="muted" textStyle="small" mb="14px">
        The link is good until {momentText(data.expiresAt, zone)}, {zoneText(zone)}, once, in the browser in which you
        begin. If you do not know {data.practice}, close this page.
      </Box>
      {begin.error ? (
        <Box role="alert" color="crimson" mb="10px">
          ▲ {begin.error.message}
        </Box>
      ) : null}
      <Button
        variant="solid"
        disabled={begin.isPending}
        onClick={() => begin.mutate(undefined, { onSuccess: ({ address }) => window.location.assign(address) })}
      >
        Go to {data.name}
      </Button>
    </Plain>
  )
}
