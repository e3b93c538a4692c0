import { Box, Button, Flex, Skeleton, Span } from '@chakra-ui/react'

/** A query, as far as its data may be missing. */
export interface Asked {
  readonly data: unknown
  readonly error: Error | null
  readonly isFetching: boolean
  refetch(): unknown
}

/** Several queries as one: missing as long as any is, failed where any has failed. */
export const allOf = (...queries: readonly Asked[]): Asked => ({
  data: queries.every(one => one.data !== undefined) ? queries.map(one => one.data) : undefined,
  error: queries.find(one => one.error)?.error ?? null,
  isFetching: queries.some(one => one.isFetching),
  refetch: () => {
    for (const one of queries) if (one.error) one.refetch()
  },
})

const widths = ['46%', '72%', '58%', '66%', '40%', '61%', '52%', '70%']

/** Stands where data would be that is not there: on its way, or what kept it from coming and a way to try again. */
export const Instead = ({ of }: { readonly of: Asked }) =>
  of.error ? (
    <Flex role="alert" bg="sheet" borderWidth="1px" borderColor="crimson" px="14px" py="10px" gap="14px" align="center">
      <Box flex="1">
        <Span color="crimson" aria-hidden="true">
          ▲{' '}
        </Span>
        {of.error.message}
      </Box>
      <Button disabled={of.isFetching} onClick={() => void of.refetch()}>
        {of.isFetching ? 'Trying …' : 'Try again'}
      </Button>
    </Flex>
  ) : (
    <Box role="status" aria-label="Loading" bg="sheet" borderWidth="1px" borderColor="hairline">
      {widths.map(width => (
        <Flex key={width} h="32px" px="10px" align="center" borderBottomWidth="1px" borderColor="hairline">
          <Skeleton h="10px" w={width} />
        </Flex>
      ))}
    </Box>
  )
