import { Box, Flex } from '@chakra-ui/react'
import type { PullRow } from '@culvert/contract'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useSourceActs } from './sourceQueries.ts'

export const isUnderWay = (pull: PullRow | null | undefined): boolean =>
  pull !== null && pull !== undefined && ['waiting', 'running', 'cancelling'].includes(pull.state)

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
  const queries = useQueryClient()
  const { cancel } = useSourceActs(clientId)
  const notice = useNotice()
  const running = isUnderWay(pull)
  const wasRunning = useRef(running)
  useEffect(() => {
    if (wasRunning.current && !running && pull) {
      if (pull.state === 'failed') notice.refuse(new Error(pull.message))
      else notice.say(`Pulled: ${pullText(pull)}.`)
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    }
    wasRunning.current = running
  }, [running, pull, clientId, queries, notice])
  if (!pull || !running) return null
  const share = pull.total ? Math.min(1, pull.done / pull.total) : 0
  return (
    <Flex align="center" gap="10px">
      <Box
        role="progressbar"
        aria-label={`Pulling ${pull.source}`}
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
      <button type="button" className="linklike small" onClick={() => cancel.mutate(pull.pullId)}>
        Stop
      </button>
    </Flex>
  )
}
