import { Box, Flex } from '@chakra-ui/react'
import { isUnderWay, type PullRow } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { useSourceActs } from './sourceQueries.ts'

export const isPulling = (pull: PullRow | null | undefined): boolean =>
  pull !== null && pull !== undefined && isUnderWay(pull.state)

/** What a pull has come to, in words. */
export const pullText = (pull: PullRow): string => {
  const counts = `${pull.added.toLocaleString('en-IE')} new, ${pull.revised.toLocaleString('en-IE')} corrected, ${pull.same.toLocaleString('en-IE')} known`
  switch (pull.state) {
    case 'waiting':
      return 'waiting to start'
    case 'running':
      return `${pull.done.toLocaleString('en-IE')}${pull.total ? ` of ${pull.total.toLocaleString('en-IE')}` : ''} lines`
    case 'cancelling':
      return 'stopping after the page under way'
    case 'failed':
      return pull.message
    case 'cancelled':
      return `stopped; ${counts}`
    case 'done':
      return counts
  }
}

/** How far a running pull is. It goes on when the page is left; coming back shows it again. */
export const PullProgress = ({ pull }: { readonly pull: PullRow | null }) => {
  const { clientId } = useClient()
  const { cancel } = useSourceActs(clientId)
  if (!pull || !isPulling(pull)) return null
  const share = pull.total ? Math.min(1, pull.done / pull.total) : 0
  return (
    <Flex align="center" gap="10px">
      <Box
        role="progressbar"
        aria-label={`Pulling ${pull.subject}`}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(share * 100)}
        w="160px"
        h="8px"
        bg="var(--hairline)"
      >
        <Box h="8px" bg="var(--plum)" w={`${share * 100}%`} />
      </Box>
      <span className="small">{pullText(pull)}</span>
      <button type="button" className="linklike small" onClick={() => cancel.mutate(pull.jobId)}>
        Stop
      </button>
    </Flex>
  )
}
