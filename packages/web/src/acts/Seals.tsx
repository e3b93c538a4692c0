import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { SealCheck, SealFault } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { countText } from '../ui/formats.ts'
import { sealsQuery } from './actQueries.ts'

const faultWords: Record<SealFault['what'], string> = {
  changed: 'was changed after it was sealed',
  missing: 'is missing',
  unsealed: 'has no seal: it was put in past Culvert',
  unknown_key: 'was sealed with a secret that is not given',
  cut_off: 'the end is cut off',
}

/** Works the seals out anew when it is asked to, and says whether the acts are what was done. */
export const Seals = () => {
  const { clientId } = useClient()
  const { data, error, isFetching, refetch } = useQuery(sealsQuery(clientId))
  return (
    <Box as="section" aria-label="Seals" mt="22px">
      <Flex gap="12px" align="center" wrap="wrap">
        <Button disabled={isFetching} onClick={() => void refetch()}>
          {isFetching ? 'Checking …' : 'Check the seals'}
        </Button>
        <Span color="muted">
          Each act is sealed with the one before; whoever changes one past Culvert breaks the chain there.
        </Span>
      </Flex>
      {error ? (
        <Box role="alert" color="crimson" mt="8px">
          ▲ {error.message}
        </Box>
      ) : null}
      {data && !isFetching ? <Found check={data} /> : null}
    </Box>
  )
}

const Found = ({ check }: { readonly check: SealCheck }) => (
  <Box role="status" mt="8px">
    {check.faults.length === 0 ? (
      <Box>■ {countText(check.acts, 'act')}, every seal is right.</Box>
    ) : (
      <Box color="crimson">
        {check.faults.map(fault => (
          <Box key={`${fault.what} ${fault.seq} ${fault.actId}`}>
            ▲ {fault.seq > 0 ? `Act ${fault.seq}` : `Act ${fault.actId}`} {faultWords[fault.what]}.
          </Box>
        ))}
      </Box>
    )}
    {check.last ? (
      <Box color="muted" textStyle="small" mt="4px" overflowWrap="anywhere">
        The last seal, to be written down elsewhere: {check.last.seq}:<Span textStyle="mono">{check.last.seal}</Span>
      </Box>
    ) : null}
  </Box>
)
