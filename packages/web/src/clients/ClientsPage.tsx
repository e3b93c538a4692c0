import { Box, Flex, Span, Table } from '@chakra-ui/react'
import { type Overview, type Session, stageNames } from '@culvert/contract'
import { useQueries, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { sessionQuery } from '../context/sharedQueries.ts'
import { countText, momentText, zoneText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { useKey } from '../ui/keys.ts'
import { stageLabels } from '../ui/stages.ts'
import { ClientRow } from './ClientRow.tsx'
import { overviewQuery } from './clientQueries.ts'
import { TotalRows } from './TotalRows.tsx'
import { byUrgency, waitingIn } from './urgency.ts'

/** The page before a client is chosen: what needs one first stands first, with a course per client, and what came in lately. */
export const ClientsPage = () => {
  const query = useQuery(sessionQuery)
  const { data } = query
  return (
    <>
      <Flex as="header" h="42px" px="24px" align="center" bg="sheet" borderBottomWidth="1px" borderColor="hairline">
        <Box fontWeight="600" flex="1">
          Culvert
        </Box>
        <Link to="/programs" style={{ marginRight: '20px' }}>
          For programs
        </Link>
        <span>{data?.user.name}</span>
      </Flex>
      <Box as="main" px={{ base: '12px', md: '24px' }} pt="16px" pb="40px">
        <Flex align="baseline" gap="14px" mb="8px" wrap="wrap">
          <Box as="h1" fontSize="19px" fontWeight="600">
            Clients
          </Box>
          {data ? (
            <Span color="muted">{countText(data.clients.length, 'client')} · what needs you first stands first</Span>
          ) : null}
        </Flex>
        {data ? <ClientsTable clients={data.clients} /> : <Instead of={query} />}
      </Box>
    </>
  )
}

const ClientsTable = ({ clients }: { readonly clients: Session['clients'] }) => {
  const overviews = useQueries({ queries: clients.map(client => overviewQuery(client.clientId)) })
  const navigate = useNavigate()
  const [active, setActive] = useState<number | null>(null)
  const [unfolded, setUnfolded] = useState<ReadonlySet<number>>(new Set())
  const rows = clients
    .map((client, at) => ({ client, overview: overviews[at]?.data, waiting: waitingIn(client, overviews[at]?.data) }))
    .sort((left, right) => byUrgency(left.waiting, right.waiting) || (left.client.name < right.client.name ? -1 : 1))
  const at = rows.findIndex(row => row.client.clientId === active)
  const here = rows[at]
  const move = (step: number) =>
    setActive(rows[Math.min(rows.length - 1, Math.max(0, at + step))]?.client.clientId ?? null)
  const toggle = (clientId: number) => {
    const next = new Set(unfolded)
    if (!next.delete(clientId)) next.add(clientId)
    setUnfolded(next)
  }
  useKey('j, down', 'next client', () => move(1))
  useKey('k, up', 'previous client', () => move(-1))
  useKey('o', 'unfold what waits in the client', () => here && toggle(here.client.clientId), here !== undefined)
  useKey(
    'enter',
    'open where it is most urgent',
    () => here && void navigate(`/c/${here.client.clientId}${here.waiting[0]?.link ?? '/settlements'}`),
    here !== undefined,
  )
  if (clients.length === 0)
    return (
      <Box bg="sheet" borderWidth="1px" borderColor="hairline" p="12px" color="muted">
        No clients yet. The demo’s clients appear here once they are loaded.
      </Box>
    )
  return (
    <>
      <Lately clients={clients} overviews={overviews.flatMap(one => one.data ?? [])} />
      <Box overflowX="auto">
        <Table.Root aria-label="Clients" css={{ '& td': { verticalAlign: 'top', paddingBlock: '8px' } }}>
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>Client, and what is most urgent in it</Table.ColumnHeader>
              {stageNames.map(stage => (
                <Table.ColumnHeader key={stage} w="90px" px="0">
                  {stageLabels[stage]}
                </Table.ColumnHeader>
              ))}
              <Table.ColumnHeader w="122px">Last came in</Table.ColumnHeader>
              <Table.ColumnHeader w="76px">Closed to</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {rows.map(({ client, overview, waiting }) => (
              <ClientRow
                key={client.clientId}
                client={client}
                overview={overview}
                waiting={waiting}
                active={client.clientId === active}
                unfolded={unfolded.has(client.clientId)}
                onUnfold={() => toggle(client.clientId)}
              />
            ))}
            {clients.length > 1 ? <TotalRows clients={clients} /> : null}
          </Table.Body>
        </Table.Root>
      </Box>
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
