import { afterEach, describe, expect, it, vi } from 'vitest'
import { z } from 'zod'
import { queryText, RequestRefused, request } from './request.ts'

const answer = z.object({ version: z.number() })
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
const refusal = (path = '/x'): Promise<RequestRefused> =>
  request(path, answer).then(
    () => Promise.reject(new Error('it was not refused')),
    (error: RequestRefused) => error,
  )

describe('what is asked', () => {
  it('is read without a body, written with one, and says that it comes from our own page', async () => {
    const { asked } = answering(200, '{"version": 3, "more": 1}')
    expect(await request('/a', answer)).toEqual({ version: 3 })
    await request('/b', answer, { json: { routes: [] } })
    await request('/c', answer, { method: 'PUT', json: null })
    await request('/d', answer, { file: new File(['x'], 'x.csv') })
    expect(asked.map(([url, init]) => [url, init.method, typeof init.body])).toEqual([
      ['/api/a', 'GET', 'object'],
      ['/api/b', 'POST', 'string'],
      ['/api/c', 'PUT', 'string'],
      ['/api/d', 'POST', 'object'],
    ])
    for (const [, { headers }] of asked) expect(headers).toMatchObject({ 'x-culvert': 'web' })
  })

  it('names only what is set', () => {
    expect(queryText({ a: 'x y', b: null, c: undefined, d: '', e: 0 })).toBe('?a=x+y&e=0')
    expect(queryText({ a: null })).toBe('')
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
    answering(200, '{"version": "three"}')
    await expect(request('/x', answer)).rejects.toThrow()
  })
})
