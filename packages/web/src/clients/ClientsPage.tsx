import { Box, Flex } from '@chakra-ui/react'
import { type Session, type StageName, stageNames } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { sessionQuery } from '../context/sharedQueries.ts'
import { amountText } from '../ui/formats.ts'
import { stageLabels, stageSaying } from '../ui/stages.ts'

/** The page before a client is chosen: a row per client, a column per stage with what waits there. */
export const ClientsPage = () => {
  const { data, error } = useQuery(sessionQuery)
  return (
    <>
      <Flex
        as="header"
        h="42px"
        px="24px"
        align="center"
        bg="var(--sheet)"
        borderBottomWidth="1px"
        borderColor="var(--hairline)"
      >
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
        {error ? (
          <Box role="alert" className="crimson">
            {error.message}
          </Box>
        ) : null}
        {data ? (
          <table className="sheet" aria-label="Clients">
            <thead>
              <tr>
                <th>Client</th>
                <th>Base</th>
                {stageNames.map(stage => (
                  <th key={stage}>{stageLabels[stage]}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.clients.map(client => (
                <tr key={client.clientId}>
                  <td>
                    <Link className="strong" to={`/c/${client.clientId}/settlements`}>
                      {client.name}
                    </Link>
                  </td>
                  <td>{client.base}</td>
                  {stageNames.map(stage => (
                    <StageCell key={stage} client={client} stage={stage} />
                  ))}
                </tr>
              ))}
              {data.clients.length === 0 ? (
                <tr>
                  <td colSpan={10} className="muted">
                    No clients yet. The demo’s client appears here once it is loaded.
                  </td>
                </tr>
              ) : null}
            </tbody>
          </table>
        ) : null}
      </Box>
    </>
  )
}

const StageCell = ({ client, stage }: { readonly client: Session['clients'][number]; readonly stage: StageName }) => {
  const summary = client.stages.find(one => one.stage === stage)
  if (!summary) return <td />
  const saying = stageSaying(summary, client.stages)
  const tone = saying.tone === 'warn' ? 'ochre' : saying.tone === 'fail' ? 'crimson' : 'muted'
  return (
    <td className={`small ${tone}`} style={{ lineHeight: 1.25 }}>
      <Link className={tone} to={`/c/${client.clientId}/${stage}`}>
        {saying.text}
      </Link>
      {saying.money ? (
        <>
          <br />
          {amountText(summary.amount, client.base, client.locale)}
        </>
      ) : null}
    </td>
  )
}
