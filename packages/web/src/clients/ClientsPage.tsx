import { Box, Flex, Table } from '@chakra-ui/react'
import { type Session, type StageName, stageNames } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { sessionQuery } from '../context/sharedQueries.ts'
import { amountText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { stageLabels, stageSaying } from '../ui/stages.ts'

/** The page before a client is chosen: a row per client, a column per stage with what waits there. */
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
      <Box as="main" px="24px" pt="20px">
        <Box as="h1" fontSize="19px" fontWeight="600" mb="10px">
          Clients
        </Box>
        {data === undefined ? <Instead of={query} /> : null}
        {data ? (
          <Table.Root aria-label="Clients">
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader>Client</Table.ColumnHeader>
                <Table.ColumnHeader>Base</Table.ColumnHeader>
                {stageNames.map(stage => (
                  <Table.ColumnHeader key={stage}>{stageLabels[stage]}</Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {data.clients.map(client => (
                <Table.Row key={client.clientId}>
                  <Table.Cell>
                    <PageLink fontWeight="600" to={`/c/${client.clientId}/settlements`}>
                      {client.name}
                    </PageLink>
                  </Table.Cell>
                  <Table.Cell>{client.base}</Table.Cell>
                  {stageNames.map(stage => (
                    <StageCell key={stage} client={client} stage={stage} />
                  ))}
                </Table.Row>
              ))}
              {data.clients.length === 0 ? (
                <Table.Row>
                  <Table.Cell colSpan={10} color="muted">
                    No clients yet. The demo’s client appears here once it is loaded.
                  </Table.Cell>
                </Table.Row>
              ) : null}
            </Table.Body>
          </Table.Root>
        ) : null}
      </Box>
    </>
  )
}

const StageCell = ({ client, stage }: { readonly client: Session['clients'][number]; readonly stage: StageName }) => {
  const summary = client.stages.find(one => one.stage === stage)
  if (!summary) return <Table.Cell />
  const saying = stageSaying(summary, client.stages)
  const tone = saying.tone === 'warn' ? 'ochre' : saying.tone === 'fail' ? 'crimson' : 'muted'
  return (
    <Table.Cell textStyle="small" color={tone} lineHeight="1.25">
      <PageLink color={tone} to={`/c/${client.clientId}/${stage}`}>
        {saying.text}
      </PageLink>
      {saying.money ? (
        <>
          <br />
          {amountText(summary.amount, client.base, client.locale)}
        </>
      ) : null}
    </Table.Cell>
  )
}
