import { clientEndpoints } from '@culvert/contract'
import { queryOptions } from '@tanstack/react-query'
import { call, RequestRefused } from './request.ts'

/** Who is signed in, with their clients: apart, since the first view needs it and nothing of the stages. */
export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => call(clientEndpoints.session),
  // Nobody is signed in by asking again.
  retry: (count, error) => !(error instanceof RequestRefused && error.status === 401) && count < 1,
})
