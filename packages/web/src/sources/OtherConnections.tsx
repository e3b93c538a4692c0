import { Button, Flex, Span } from '@chakra-ui/react'
import type { GrantRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { grantsQuery, useGrantActs } from './grantQueries.ts'
import { endText } from './grantText.ts'

/** What is connected and is no source: bank accounts, and an outside ledger. */
export const OtherConnections = () => {
  const { clientId } = useClient()
  const { data } = useQuery(grantsQuery(clientId))
  const grants = (data?.grants ?? []).filter(grant => grant.accounts.length > 0 || grant.company !== null)
  return grants.map(grant => <Connected key={grant.grantId} grant={grant} />)
}

const Connected = ({ grant }: { readonly grant: GrantRow }) => {
  const { clientId, timeZone } = useClient()
  const notice = useNotice()
  const may = useMay()
  const { ask, dropBank, dropLedger } = useGrantActs(clientId)
  const said = {
    onError: notice.refuse,
    onSuccess: ({ told }: { told: boolean }) =>
      notice.say(
        told
          ? `${grant.name} is disconnected; what it brought stays.`
          : `${grant.name} is disconnected here; it did not answer. End it there too.`,
      ),
  }
  const what = grant.company ?? `bank account ${grant.accounts.join(', ')}`
  return (
    <Flex
      as="section"
      aria-label={grant.name}
      mb="8px"
      px="12px"
      minH="36px"
      gap="12px"
      align="center"
      wrap="wrap"
      borderWidth="1px"
      borderColor={grant.ended === null ? 'hairline' : 'ochre'}
      bg={grant.ended === null ? 'sheet' : 'ochre.wash'}
    >
      <Span fontWeight="600" color={grant.ended === null ? undefined : 'ochre'}>
        {grant.ended === null ? '' : '◆ '}
        {grant.name}: {what}
      </Span>
      <Span color="muted" textStyle="small" flex="1">
        {grant.ended === null
          ? `as ${grant.login}${grant.until ? `, until ${momentText(grant.until, timeZone)}` : ''}`
          : `${endText[grant.ended]}; connect it again to go on`}
      </Span>
      {may('connect') ? (
        <>
          {grant.ended === null ? null : (
            <Button
              variant="plain"
              disabled={ask.isPending}
              onClick={() =>
                ask.mutate(
                  { service: grant.service },
                  { onError: notice.refuse, onSuccess: ({ address }) => window.location.assign(address) },
                )
              }
            >
              Connect again
            </Button>
          )}
          {grant.accounts.map(account => (
            <Button
              key={account}
              variant="plain"
              disabled={dropBank.isPending}
              onClick={() => dropBank.mutate(account, said)}
            >
              Disconnect {account}
            </Button>
          ))}
          {grant.company === null ? null : (
            <Button variant="plain" disabled={dropLedger.isPending} onClick={() => dropLedger.mutate(undefined, said)}>
              Disconnect
            </Button>
          )}
        </>
      ) : null}
    </Flex>
  )
}
