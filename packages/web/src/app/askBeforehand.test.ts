import { clientEndpoints } from '@culvert/contract'
import { QueryClient } from '@tanstack/react-query'
import { afterEach, expect, it, vi } from 'vitest'
import { overviewQuery } from '../clients/clientQueries.ts'
import { sessionQuery } from '../context/sessionQuery.ts'
import { askBeforehand } from './askBeforehand.ts'

afterEach(() => vi.unstubAllGlobals())

const asking = (answer: (address: string) => Response) => {
  const asked: string[] = []
  vi.stubGlobal('fetch', async (address: string) => {
    asked.push(address)
    return answer(address)
  })
  return asked
}

it('asks who is signed in, once, and nothing more where nobody is', async () => {
  const asked = asking(() => Response.json({ error: 'sign in' }, { status: 401 }))
  const queries = new QueryClient()
  await askBeforehand(queries, '/')
  expect(asked).toEqual([`/api${clientEndpoints.session.path}`])
  expect(queries.getQueryData(sessionQuery.queryKey)).toBeUndefined()
})

it('asks nothing for pages of people who need not sign in', async () => {
  const asked = asking(() => Response.json({}))
  await askBeforehand(new QueryClient(), '/question')
  expect(asked).toEqual([])
})

it('asks for the clients’ overviews on their page alone, of those whom the session names', async () => {
  const queries = () => {
    const made = new QueryClient()
    // As it is kept once it was asked.
    made.setQueryDefaults(sessionQuery.queryKey, { staleTime: 60_000 })
    made.setQueryData(sessionQuery.queryKey, { clients: [{ clientId: 4 }, { clientId: 7 }] } as never)
    return made
  }
  const asked = asking(() => Response.json({ error: 'away' }, { status: 503 }))
  await askBeforehand(queries(), '/c/4/books')
  expect(asked).toEqual([])
  const of = queries()
  await askBeforehand(of, '/')
  expect(asked.sort()).toEqual(['/api/clients/4/overview', '/api/clients/7/overview'])
  // What failed is asked anew by the page, and is no overview.
  expect(of.getQueryData(overviewQuery(4).queryKey)).toBeUndefined()
})
