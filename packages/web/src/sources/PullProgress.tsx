import { Button, Flex, Span } from '@chakra-ui/react'
import { isUnderWay, type PullRow } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { progressText, shareOf } from '../context/jobProgress.ts'
import { ProgressBar } from '../ui/ProgressBar.tsx'
import { useSourceActs } from './sourceQueries.ts'

export const isPulling = (pull: PullRow | null | undefined): boolean =>
  pull !== null && pull !== undefined && isUnderWay(pull.state)

/** What a pull has come to, in words. */
export const pullText = (pull: PullRow): string => {
  const said = [
    [pull.added, 'new'],
    [pull.revised, 'corrected'],
    [pull.same, 'known'],
  ] as const
  const counts =
    said
      .filter(([count]) => count > 0)
      .map(([count, word]) => `${count.toLocaleString('en-IE')} ${word}`)
      .join(', ') || 'nothing new'
  switch (pull.state) {
    case 'waiting':
    case 'running':
    case 'cancelling':
      return progressText(pull)
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
  return (
    <Flex align="center" gap="10px">
      <ProgressBar share={shareOf(pull)} label={`Pulling ${pull.subject}`} width="160px" />
      <Span textStyle="small">{pullText(pull)}</Span>
      <Button variant="ghost" textStyle="small" onClick={() => cancel.mutate(pull.jobId)}>
        Stop
      </Button>
    </Flex>
  )
}
