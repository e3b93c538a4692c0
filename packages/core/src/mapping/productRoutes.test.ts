import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { productRoutes } from './productRoutes.ts'
import { routeBook } from './resolveRoute.ts'
import type { Route } from './route.ts'

let next = 0
const route = (more: Partial<Route>): Route => ({
  id: ++next,
  kind: 'sale',
  account: '4000',
  taxCode: 'S23',
  segments: {},
  block: false,
  from: null,
  ...more,
})
const kit = { source: 'openhall', sku: 'KIT-1', category: 'Glaze kits', date: '2026-03-02' }
const item = { code: 'K1', taxCode: null }
const madeOf = (routes: readonly Route[], to: { code: string; taxCode: string | null } = item) =>
  productRoutes(kit, to, routes)?.map(({ region, taxCode }) => [region, taxCode])

describe('routes that take a product to its item', () => {
  const map = [
    route({ category: 'Glaze kits', account: '4010' }),
    route({ region: 'DE', taxCode: 'DE19' }),
    route({}),
    route({ kind: 'refund', region: 'FR', taxCode: 'FR20' }),
  ]

  it('leave the tax of every region as the map has it', () => {
    // A category goes before a region today, so the kits bear the domestic code everywhere: that stays, whatever one thinks of it.
    expect(madeOf(map)).toEqual([[null, 'S23']])
    expect(madeOf(map.slice(1))).toEqual([
      [null, 'S23'],
      ['DE', 'DE19'],
    ])
    const made = productRoutes(kit, item, map.slice(1)) ?? []
    const after = routeBook([...map.slice(1), ...made.map((one, at) => ({ ...one, id: 100 + at }))])
    for (const region of [null, 'DE', 'FR', 'DE-BE']) {
      const line = {
        ...kit,
        kind: 'sale',
        location: null,
        gateway: null,
        method: null,
        taxLabel: null,
        region,
        localDate: kit.date,
      } as const
      expect(after.serve(line)).toMatchObject({ item: 'K1', taxCode: routeBook(map.slice(1)).serve(line)?.taxCode })
    }
  })

  it('take the item’s own code where it has one, but for regions that have theirs', () => {
    expect(madeOf(map.slice(1), { code: 'K1', taxCode: 'S0' })).toEqual([
      [null, null],
      ['DE', 'DE19'],
    ])
  })

  it('are not made where sales are told apart by something else, or nothing says the tax', () => {
    expect(madeOf([...map, route({ location: 'Market hall' })])).toBeUndefined()
    expect(madeOf([route({ source: 'fernstall', location: 'Market hall' }), ...map])).toEqual([[null, 'S23']])
    expect(madeOf([])).toBeUndefined()
    expect(madeOf([], { code: 'K1', taxCode: 'S23' })).toEqual([[null, null]])
  })

  it('leave every sale the tax that it has, on any map they are made for', () => {
    const code = fc.constantFrom('S23', 'S13', 'DE19', null)
    const anyRoute = fc.record({
      category: fc.constantFrom(undefined, 'Glaze kits', 'Books'),
      region: fc.constantFrom(undefined, 'DE', 'DE-BE', 'FR'),
      source: fc.constantFrom(undefined, 'openhall', 'fernstall'),
      sku: fc.constantFrom(undefined, 'OTHER'),
      taxCode: code,
    })
    fc.assert(
      fc.property(
        fc.uniqueArray(anyRoute, { maxLength: 8, selector: one => JSON.stringify({ ...one, taxCode: 0 }) }),
        parts => {
          const routes = parts.map((part, id) => route({ ...(part as Partial<Route>), id: id + 1 }))
          const made = productRoutes(kit, item, routes)
          if (made === null) return
          const [before, after] = [
            routeBook(routes),
            routeBook([...routes, ...made.map((one, at) => ({ ...one, id: 1000 + at }))]),
          ]
          for (const region of [null, 'IE', 'DE', 'DE-BE', 'DE-BY', 'FR', 'FR-IDF']) {
            const sale = { kind: 'sale', location: null, gateway: null, method: null, taxLabel: null, region } as const
            const line = { ...kit, ...sale, localDate: kit.date }
            expect(after.serve(line)?.item).toBe('K1')
            if (before.serve(line)) expect(after.serve(line)?.taxCode).toBe(before.serve(line)?.taxCode)
            // Other products and other sources go where they went.
            for (const other of [
              { ...line, sku: 'OTHER' },
              { ...line, source: 'fernstall' },
            ])
              expect(after.serve(other)).toEqual(before.serve(other))
          }
        },
      ),
      { numRuns: 2000 },
    )
  })
})
