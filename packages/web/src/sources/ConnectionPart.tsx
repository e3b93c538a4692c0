import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { Connection, SourceRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { AskDialog } from '../ui/AskDialog.tsx'
import { countText, dateText, momentText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { AskOwner } from './AskOwner.tsx'
import { connectionQuery, useGrantActs } from './grantQueries.ts'
import { endText, scopesText } from './grantText.ts'

/** By what a source is connected, until when, and the way out where that has ended. */
export const ConnectionPart = ({ row }: { readonly row: SourceRow }) => {
  const { clientId, timeZone } = useClient()
  const { data } = useQuery(connectionQuery(clientId, row.source))
  const may = useMay()
  const notice = useNotice()
  const { ask, disconnect } = useGrantActs(clientId)
  const [open, setOpen] = useState<'disconnect' | 'owner' | null>(null)
  const grant = data?.grant
  if (!data || !grant) return null
  const isSoon = grant.endsSoon
  const isOpen = grant.ended !== null || isSoon
  const again = () =>
    ask.mutate(
      {
        service: grant.service,
        forSource: row.source,
        personalData: grant.scopes.includes('buyers') ? 'name' : 'none',
      },
      { onError: notice.refuse, onSuccess: ({ address }) => window.location.assign(address) },
    )
  return (
    <>
      {open === 'owner' ? (
        <AskOwner
          service={{ key: grant.service, name: grant.name }}
          forSource={row.source}
          onClose={() => setOpen(null)}
        />
      ) : null}
      <AskDialog
        open={open === 'disconnect'}
        title={`Disconnect ${row.name}`}
        act="Disconnect"
        onClose={() => setOpen(null)}
        onAct={() =>
          disconnect.mutate(row.source, {
            onError: notice.refuse,
            onSuccess: ({ told }) =>
              notice.say(
                told
                  ? `${row.name} is disconnected.`
                  : `${row.name} is disconnected here; ${grant.name} did not answer. End it there too.`,
              ),
          })
        }
      >
        <Consequences connection={data} name={row.name} />
      </AskDialog>
      <Flex
        mb="10px"
        px="12px"
        py="6px"
        gap="14px"
        align="center"
        wrap="wrap"
        borderWidth="1px"
        bg={isOpen ? 'ochre.wash' : 'sheet'}
        borderColor={isOpen ? 'ochre' : 'hairline'}
      >
        <Box flex="1">
          {grant.ended ? (
            <Span color="ochre" fontWeight="600">
              ◆ What {grant.name} granted was {endText[grant.ended]}
              {grant.endedAt ? `, ${momentText(grant.endedAt, timeZone)}` : ''}. What was brought in stays.
            </Span>
          ) : (
            <>
              Connected to {grant.name}
              <Span color="muted">
                {' '}
                as {grant.login}, granted {grant.byOwner ? 'by the owner' : `by ${grant.askedBy}`} on{' '}
                {dateText(grant.grantedAt?.slice(0, 10) ?? '')}; reads {scopesText(grant.scopes)}
              </Span>
              {grant.until ? (
                <Span color={isSoon ? 'ochre' : 'muted'} fontWeight={isSoon ? '600' : undefined}>
                  ; until {dateText(grant.until.slice(0, 10))}
                </Span>
              ) : null}
            </>
          )}
        </Box>
        {may('connect') ? (
          <Flex gap="12px">
            {isOpen ? (
              <>
                <Button variant={grant.ended ? 'solid' : 'outline'} disabled={ask.isPending} onClick={again}>
                  Connect again
                </Button>
                <Button variant="plain" onClick={() => setOpen('owner')}>
                  Ask the owner
                </Button>
              </>
            ) : null}
            <Button variant="plain" onClick={() => setOpen('disconnect')}>
              Disconnect
            </Button>
          </Flex>
        ) : null}
      </Flex>
    </>
  )
}

const Consequences = ({ connection, name }: { readonly connection: Connection; readonly name: string }) => (
  <Flex direction="column" gap="6px">
    <Box>
      <b>Stops:</b> nothing more is pulled of {name}, and {connection.grant?.name} is told so
      {connection.alsoServes.length > 0 ? ` once ${connection.alsoServes.join(', ')} no longer uses the grant` : ''}.
    </Box>
    <Box>
      <b>Stays:</b> {countText(connection.lines, 'line')} and{' '}
      {countText(connection.posted, 'posted settlement', 'posted settlements')}. More can come as files.
    </Box>
    <Box>
      <b>Open:</b>{' '}
      {connection.open === 0
        ? 'no settlement waits to be posted.'
        : `${countText(connection.open, 'settlement waits', 'settlements wait')} to be posted, as before; late corrections of what is posted would no longer be seen.`}
    </Box>
  </Flex>
)
