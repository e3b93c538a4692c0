import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { addressOf, endpoint, type Right, rights } from './endpoint.ts'
import { endpoints, endpointsByStage } from './endpoints.ts'

describe('an address', () => {
  it('has its parameters in their places, and names only what is set', () => {
    const params = { source: 'a/b', key: 'day:2026-03-05', currency: 'EUR' }
    const query = { kind: 'x y', category: null, more: undefined, none: '', zero: 0 }
    expect(addressOf(endpoints.settlementLines, { client: 3, params, query })).toBe(
      '/clients/3/settlements/a%2Fb/day%3A2026-03-05/EUR/lines?kind=x+y&zero=0',
    )
    expect(addressOf(endpoints.session, {})).toBe('/session')
  })
})

/** What is only looked at needs one of these. */
const looks: ReadonlySet<Right> = new Set(['read', 'enter', 'own', 'people', 'anyone', 'comment', 'asked'])
/** Asked with a body, and changing nothing. */
const askedWithBody: ReadonlySet<string> = new Set(['/rules/touched', '/rules/lines', '/tax-grid/lines'])

describe('the endpoints', () => {
  const all = Object.values(endpoints)

  it('have names and addresses that are one of a kind', () => {
    const listed = Object.values(endpointsByStage).flatMap(stage => Object.keys(stage))
    expect(new Set(listed).size).toBe(listed.length)
    expect(Object.keys(endpoints).sort()).toEqual([...listed].sort())
    const addresses = all.map(({ method, of, path }) => `${method} ${of} ${path.replaceAll(/:\w+/g, ':')}`)
    expect(new Set(addresses).size).toBe(addresses.length)
  })

  it('each need a right, and what changes something needs more than to read', () => {
    for (const { method, right, path, does } of all) {
      expect(rights, path).toContain(right)
      expect(does, path).toMatch(/^[A-Z].*\.$/)
      if (method === 'GET') expect(looks.has(right), path).toBe(true)
      else if (!askedWithBody.has(path)) expect(['read', 'enter'], path).not.toContain(right)
    }
  })

  it('do not compile without a right', () => {
    // @ts-expect-error: the right is missing
    endpoint({ method: 'GET', path: '/nowhere', does: 'Nothing.', answer: z.object({}) })
  })
})
