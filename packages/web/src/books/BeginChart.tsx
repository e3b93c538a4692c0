import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { countText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { accountTypeText } from '../ui/words.ts'
import { startingChartQuery, useChartActs } from './chartQueries.ts'

/** Stands where a chart has no accounts: a small one to begin with, or a list of one's own. */
export const BeginChart = () => {
  const { clientId, base } = useClient()
  const notice = useNotice()
  const query = useQuery(startingChartQuery(clientId))
  const { take } = useChartActs(clientId)
  const { data } = query
  if (!data) return <Instead of={query} />
  return (
    <Box
      as="section"
      aria-label="A chart to begin with"
      bg="sheet"
      borderWidth="1px"
      borderColor="hairline"
      p="16px"
      maxW="980px"
    >
      <Flex gap="14px" align="center" mb="10px" wrap="wrap">
        <Span flex="1">
          No accounts yet. Bring in the chart that there is, as CSV, XLSX or pasted, or begin with this small one. Every
          account can be renamed and renumbered while nothing rests on it.
        </Span>
        <Button
          variant="solid"
          disabled={take.isPending}
          onClick={() =>
            take.mutate(
              data.accounts.map(account => ({ ...account, currency: base })),
              {
                onError: notice.refuse,
                onSuccess: ({ added }) =>
                  notice.say(`${countText(added, 'account')} added. Next: a source, and its file.`),
              },
            )
          }
        >
          Take these {data.accounts.length} accounts
        </Button>
      </Flex>
      <Box color="muted" textStyle="small" mb="8px">
        Numbering: {data.numbering}
      </Box>
      <Box columnCount={{ base: 1, md: 2 }} columnGap="32px">
        {data.accounts.map(account => (
          <Flex key={account.code} h="26px" gap="12px" borderBottomWidth="1px" borderColor="hairline" align="center">
            <Span textStyle="mono" w="62px">
              {account.code}
            </Span>
            <Span flex="1" truncate>
              {account.name}
            </Span>
            <Span color="muted" textStyle="small">
              {accountTypeText(account.type)}
            </Span>
          </Flex>
        ))}
      </Box>
    </Box>
  )
}
