import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { Overview, Session } from '@culvert/contract'
import { useQueries, useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { sessionQuery } from '../context/sessionQuery.ts'
import { countText, dateText, momentText, zoneText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { type ClientOfTable, clientColumns, urgentLink, WaitingRows } from './clientColumns.tsx'
import { overviewQuery, useClientActs } from './clientQueries.ts'
import { TotalRows } from './TotalRows.tsx'
import { byUrgency, waitingIn } from './urgency.ts'

const AddClient = lazy(() => import('./AddClient.tsx'))

/** The page before a client is chosen: what needs one first stands first, with a course per client, and what came in lately. */
export const ClientsPage = () => {
  const query = useQuery(sessionQuery)
  const { data } = query
  const [adding, setAdding] = useState(false)
  const kept = data?.clients.filter(client => client.archivedAt === null) ?? []
  const archived = data?.clients.filter(client => client.archivedAt !== null) ?? []
  return (
    <>
      <Flex as="header" h="42px" px="24px" align="center" bg="sheet" borderBottomWidth="1px" borderColor="hairline">
        <Box fontWeight="600" flex="1">
          {data?.practice.name ?? 'Culvert'}
        </Box>
        <Link to="/programs" style={{ marginRight: '20px' }}>
          For programs
        </Link>
        {data?.practice.rights.includes('people') ? (
          <Link to="/people" style={{ marginRight: '20px' }}>
            People
          </Link>
        ) : null}
        {data ? <Link to="/account">{data.user.name}</Link> : null}
      </Flex>
      <Box as="main" px={{ base: '12px', md: '24px' }} pt="16px" pb="40px">
        <Flex align="baseline" gap="14px" mb="8px" wrap="wrap">
          <Box as="h1" fontSize="19px" fontWeight="600">
            Clients
          </Box>
          {data ? (
            <Span color="muted" flex="1">
              {kept.length} kept
              {archived.length > 0 ? `, ${archived.length} archived` : ''} · what needs you first stands first
            </Span>
          ) : null}
          {data?.practice.rights.includes('bring') && kept.length > 0 ? <PullAll /> : null}
          {data?.practice.rights.includes('take_on') ? (
            <Button variant="solid" onClick={() => setAdding(true)}>
              Add a client
            </Button>
          ) : null}
        </Flex>
        {data ? <ClientsTable clients={kept} /> : <Instead of={query} />}
        {archived.length > 0 ? <Archived clients={archived} /> : null}
        {adding ? (
          <Suspense fallback={null}>
            <AddClient onClose={() => setAdding(false)} />
          </Suspense>
        ) : null}
      </Box>
    </>
  )
}

/** Pulls what is new at all that is connected, of all clients. */
const PullAll = () => {
  const notice = useNotice()
  const { pullAll } = useClientActs()
  return (
    <Button
      disabled={pullAll.isPending}
      onClick={() =>
        pullAll.mutate(undefined, {
          onError: notice.refuse,
          onSuccess: ({ clients, pulls, refused }) =>
            notice.say(
              `${countText(pulls, 'pull')} begun, of ${countText(clients, 'client')}.${refused.length > 0 ? ` Not pulled: ${refused.map(one => `${one.client}, ${one.what}: ${one.why}`).join(' ')}` : ''}`,
            ),
        })
      }
    >
      Pull all
    </Button>
  )
}

/** Clients whose books are only read. */
const Archived = ({ clients }: { readonly clients: Session['clients'] }) => (
  <Flex as="section" aria-label="Archived clients" direction="column" gap="4px" mt="14px" color="muted">
    {clients.map(client => (
      <Span key={client.clientId}>
        Archived: <Link to={`/c/${client.clientId}/settings`}>{client.name}</Link> since{' '}
        {dateText(client.archivedAt?.slice(0, 10) ?? null)} · its books are read, and take no entries
      </Span>
    ))}
  </Flex>
)

/** Clients from which on it is worth a filter. */
const manyClients = 8

const ClientsTable = ({ clients }: { readonly clients: Session['clients'] }) => {
  const overviews = useQueries({ queries: clients.map(client => overviewQuery(client.clientId)) })
  const [unfolded, setUnfolded] = useState<ReadonlySet<number>>(new Set())
  const navigate = useNavigate()
  const rows = clients
    .map(
      (client, at): ClientOfTable => ({
        client,
        overview: overviews[at]?.data,
        waiting: waitingIn(client, overviews[at]?.data),
        unfolded: unfolded.has(client.clientId),
      }),
    )
    .sort((left, right) => byUrgency(left.waiting, right.waiting) || (left.client.name < right.client.name ? -1 : 1))
  const toggle = ({ clientId }: Session['clients'][number]) => {
    const next = new Set(unfolded)
    if (!next.delete(clientId)) next.add(clientId)
    setUnfolded(next)
  }
  return (
    <>
      {clients.length > 0 ? <Lately clients={clients} overviews={overviews.flatMap(one => one.data ?? [])} /> : null}
      <SheetTable
        label="Clients"
        whole
        filterable={clients.length >= manyClients}
        columns={clientColumns(toggle)}
        rows={rows}
        rowKey={row => String(row.client.clientId)}
        onOpen={row => void navigate(urgentLink(row))}
        rowKeyed={{ key: 'o', does: 'unfold what waits in the client', act: row => toggle(row.client) }}
        below={row => (row.unfolded ? <WaitingRows {...row} /> : null)}
        foot={clients.length > 1 ? <TotalRows clients={clients} /> : null}
        empty="No clients yet. Add the first one: its name and country are enough to begin."
      />
    </>
  )
}

/** What came in the last day, of all clients together. */
const Lately = ({
  clients,
  overviews,
}: {
  readonly clients: Session['clients']
  readonly overviews: readonly Overview[]
}) => {
  const [first] = overviews
  const zone = clients[0]?.timeZone ?? 'UTC'
  const sum = (of: (since: Overview['since']) => number) => overviews.reduce((total, one) => total + of(one.since), 0)
  if (!first) return <Box h="33px" />
  const lines = sum(one => one.lines)
  const statements = sum(one => one.statements)
  const revised = sum(one => one.revised)
  const said = [
    lines > 0
      ? `${countText(lines, 'line')} from ${countText(
          sum(one => one.sources),
          'source',
        )}`
      : '',
    statements > 0 ? `${countText(statements, 'statement')}` : '',
  ].filter(Boolean)
  return (
    <Flex
      gap="10px"
      py="6px"
      mb="10px"
      borderYWidth="1px"
      borderColor="hairline"
      textStyle="small"
      wrap="wrap"
      role="note"
    >
      <Span fontWeight="600">
        Since {momentText(first.since.at, zone)} {zoneText(zone)}
      </Span>
      <Span>{said.length > 0 ? said.join(' · ') : 'nothing came in'}</Span>
      {revised > 0 ? <Span color="ochre">{countText(revised, 'line')} came back changed</Span> : null}
    </Flex>
  )
}
