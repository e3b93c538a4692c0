import { type Asked, addressOf, type Endpoint } from '@culvert/contract'
import { type APIRequestContext, type APIResponse, expect } from '@playwright/test'

interface Asking {
  readonly params?: Readonly<Record<string, string>>
  readonly query?: Asked
  readonly data?: unknown
}

/** Asks the API past the pages, as these do. */
const askApi = (
  context: APIRequestContext,
  client: number,
  endpoint: Endpoint,
  { params = {}, query = {}, data }: Asking = {},
): Promise<APIResponse> =>
  context.fetch(`/api${addressOf(endpoint, { client, params, query })}`, {
    method: endpoint.method,
    headers: { 'x-culvert': 'test' },
    ...(endpoint.method === 'GET' ? {} : { data: data ?? {} }),
  })

/** The same of what must be answered. */
export const answerOf = async (
  context: APIRequestContext,
  client: number,
  endpoint: Endpoint,
  asking: Asking = {},
): Promise<unknown> => {
  const response = await askApi(context, client, endpoint, asking)
  expect(response.ok(), await response.text()).toBe(true)
  return response.json()
}
