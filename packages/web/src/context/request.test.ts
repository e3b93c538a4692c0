import { endpoints } from '@culvert/contract'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { call, RequestRefused } from './request.ts'

const lock = { client: 7, body: { month: '2026-03', locked: true } }
/** Answers every request alike. @returns what was asked */
const answering = (status: number, body: string): { asked: [string, RequestInit][] } => {
  const asked: [string, RequestInit][] = []
  vi.stubGlobal('fetch', (url: string, init: RequestInit) => {
    asked.push([url, init])
    return Promise.resolve(new Response(body, { status }))
  })
  return { asked }
}
afterEach(() => vi.unstubAllGlobals())
const refusal = (): Promise<RequestRefused> =>
  call(endpoints.setLocked, lock).then(
    () => Promise.reject(new Error('it was not refused')),
    (error: RequestRefused) => error,
  )

describe('what is asked', () => {
  it('goes to the address of the endpoint, with a body where it changes something, and says that it comes from our own page', async () => {
    const { asked } = answering(200, '{"changed": 3, "months": [], "version": 1, "more": 1}')
    expect(await call(endpoints.months, { client: 7 })).toEqual({ months: [] })
    await call(endpoints.takeUp, { client: 7, body: { keys: [] } })
    await call(endpoints.saveLabels, { client: 7, body: { labels: [], version: 1 } })
    await call(endpoints.undoOpening, { client: 7 })
    await call(endpoints.upload, { client: 7, params: { source: 'a/b' }, file: new File(['x'], 'x.csv') }).catch(
      () => null,
    )
    expect(asked.map(([url, init]) => [url, init.method, typeof init.body])).toEqual([
      ['/api/clients/7/close', 'GET', 'object'],
      ['/api/clients/7/settlements/take-up', 'POST', 'string'],
      ['/api/clients/7/tie-out/labels', 'PUT', 'string'],
      ['/api/clients/7/books/opening/undo', 'POST', 'string'],
      ['/api/clients/7/sources/a%2Fb/files', 'POST', 'object'],
    ])
    for (const [, { headers }] of asked) expect(headers).toMatchObject({ 'x-culvert': 'web' })
  })
})

describe('what is refused', () => {
  it('keeps the reason and every fault', async () => {
    const fault = { row: 5, column: 'amount', value: '1.234', expected: 'two decimals' }
    answering(422, JSON.stringify({ error: 'The file has faults.', faults: [fault], count: 12 }))
    const refused = await refusal()
    expect(refused).toBeInstanceOf(RequestRefused)
    expect(refused).toMatchObject({
      status: 422,
      message: 'The file has faults.',
      problem: { faults: [fault], count: 12 },
    })
  })

  it.each([
    ['a page of something between', 502, '<html>Bad gateway</html>', 'The server answered 502.'],
    ['nothing', 500, '', 'The server answered 500.'],
    ['something else', 409, '{"message": 1}', 'The server answered 409.'],
  ])('has a sentence, when the answer is %s', async (_, status, body, message) => {
    answering(status, body)
    expect(await refusal()).toMatchObject({ status, message })
  })

  it('says so when nothing answers', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('fetch failed')))
    expect(await refusal()).toMatchObject({ status: 0, message: 'The server does not answer. Is it running?' })
  })

  it('is an answer of another shape, too', async () => {
    answering(200, '{"changed": "three"}')
    await expect(call(endpoints.takeUp, { client: 7, body: { keys: [] } })).rejects.toThrow()
  })
})
