import { Box } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, Navigate } from 'react-router'
import { Plain } from '../ui/Plain.tsx'
import { comingBackQuery } from './grantQueries.ts'

/** What a service sent along, read once and taken out of the address bar: a code is good for one use, and for nobody else’s eyes. */
const useSentAlong = () =>
  useState(() => {
    const sent = new URLSearchParams(window.location.search)
    window.history.replaceState(window.history.state, '', window.location.pathname)
    return {
      state: sent.get('state') ?? '',
      code: sent.get('code'),
      error: sent.get('error'),
      iss: sent.get('iss'),
    }
  })[0]

/** Where one comes back to from a service’s consent page, whoever was sent there. */
export const ConnectedPage = () => {
  const sent = useSentAlong()
  const [whose = ''] = sent.state.split('.')
  const clientId = /^\d+$/.test(whose) ? Number(whose) : null
  const { data, error } = useQuery(comingBackQuery(clientId, sent))
  if (sent.state === '' || error)
    return (
      <Plain title="Not connected">
        <Box role="alert" color="crimson" mb="12px">
          ▲ {error?.message ?? 'Nothing came along from a service.'}
        </Box>
        {clientId === null ? null : <Link to={`/c/${clientId}/sources`}>Back to Sources</Link>}
      </Plain>
    )
  if (!data) return <Plain title="Connecting …">One moment.</Plain>
  if (data.byLink)
    return (
      <Plain title={data.outcome === 'granted' ? 'Thank you' : 'Refused'}>
        {data.outcome === 'granted'
          ? `${data.practice} can see ${data.name} now, for the books of ${data.client}. You can end that at ${data.name} at any time. This page can be closed.`
          : `Nothing was granted. ${data.practice} is told that you refused.`}
      </Plain>
    )
  if (data.outcome === 'refused')
    return (
      <Plain title="Refused">
        <Box mb="12px">Access was refused at {data.name}. Nothing was connected.</Box>
        <Link to={`/c/${clientId}/sources`}>Back to Sources</Link>
      </Plain>
    )
  return (
    <Navigate
      replace
      to={
        data.reconnected
          ? `/c/${clientId}/sources/${data.reconnected}`
          : `/c/${clientId}/sources/connect/${data.grantId}`
      }
    />
  )
}
