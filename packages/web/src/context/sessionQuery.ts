import { clientEndpoints } from '@culvert/contract'
import { queryOptions } from '@tanstack/react-query'
import { call } from './request.ts'

/** Who is signed in, with their clients: apart, since the first view needs it and nothing of the stages. */
export const sessionQuery = queryOptions({ queryKey: ['session'], queryFn: () => call(clientEndpoints.session) })
