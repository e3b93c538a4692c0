import { Button } from '@chakra-ui/react'
import type { GrantRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { OpenMatter } from '../ui/OpenMatter.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { grantsQuery, useGrantActs } from './grantQueries.ts'

/** What was begun and is not a source yet: shops to choose, owners that were asked. */
export const GrantsWaiting = () => {
  const { clientId } = useClient()
  const { data } = useQuery(grantsQuery(clientId))
  const waiting = (data?.grants ?? []).filter(
    grant =>
      grant.sources.length + grant.accounts.length === 0 &&
      grant.company === null &&
      (grant.ended === null
        ? grant.grantedAt !== null || grant.byOwner
        : // What the owner refused is said for a while.
          grant.byOwner && grant.ended === 'refused' && grant.endedLately),
  )
  return waiting.map(grant => <Waiting key={grant.grantId} grant={grant} />)
}

const Waiting = ({ grant }: { readonly grant: GrantRow }) => {
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const notice = useNotice()
  const may = useMay()
  const { end } = useGrantActs(clientId)
  const drop = () =>
    end.mutate(grant.grantId, {
      onError: notice.refuse,
      onSuccess: ({ told }) =>
        notice.say(told ? 'Ended.' : `Ended here; ${grant.name} did not answer. End it there too.`),
    })
  return (
    <OpenMatter
      what={`${grant.name}: ${stateText(grant)}`}
      facts={
        grant.grantedAt === null
          ? `asked by ${grant.askedBy}${grant.sentTo ? `, sent to ${grant.sentTo}` : ''}; the link is good until ${momentText(grant.askedUntil, timeZone)}`
          : `as ${grant.login}, ${momentText(grant.grantedAt, timeZone)}`
      }
    >
      {may('connect') && grant.ended === null ? (
        <>
          {grant.grantedAt === null ? null : (
            <PageLink fontWeight="600" to={href(`/sources/connect/${grant.grantId}`)}>
              {grant.sort === 'bank'
                ? 'Choose the account'
                : grant.sort === 'ledger'
                  ? 'Choose the company'
                  : 'Choose the shop'}
            </PageLink>
          )}
          <Button variant="plain" disabled={end.isPending} onClick={drop}>
            {grant.grantedAt === null ? 'Withdraw the link' : 'End it'}
          </Button>
        </>
      ) : null}
    </OpenMatter>
  )
}

const stateText = (grant: GrantRow): string => {
  if (grant.ended === 'refused') return 'the owner refused'
  if (grant.grantedAt !== null)
    return `signed in, ${grant.sort === 'bank' ? 'account' : grant.sort === 'ledger' ? 'company' : 'shop'} to choose`
  return grant.askedOver ? 'asked of the owner, the link is too old' : 'asked of the owner'
}
