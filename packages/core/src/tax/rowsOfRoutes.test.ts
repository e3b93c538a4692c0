import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Kind } from '../activity/kinds.ts'
import { isSupply } from '../activity/kindTraits.ts'
import { zoneOf } from '../activity/zone.ts'
import { bookActivity } from '../composing/bookActivity.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import type { Route } from '../mapping/route.ts'
import { madeMonths, madeOptions, seed } from '../testing/madeMonths.ts'
import { madeItems, madeRoute, madeRoutes, madeSetup } from '../testing/madeSetup.ts'
import { fewerRows } from './fewerRows.ts'
import { classBook } from './productClass.ts'
import { rowsOfRoutes } from './rowsOfRoutes.ts'
import { taxBook } from './taxRow.ts'

const route = (id: number, kind: Kind, taxCode: string | null, more: Partial<Route> = {}): Route => ({
  ...madeRoute(kind, '4000', taxCode, more),
  id,
})

describe('rows made of the routes of today', () => {
  it('say the same where a region alone, or a class alone, decides', () => {
    const made = rowsOfRoutes([
      route(1, 'sale', 'S23'),
      route(2, 'sale', 'DE19', { region: 'DE' }),
      route(3, 'sale', 'S0', { category: 'Books', source: 'till', from: '2026-03-01' }),
      route(4, 'selling_fee', 'RC23'),
      route(5, 'tax', 'S13', { taxLabel: 'Bag levy', charge: true }),
    ])
    expect(made.kept).toEqual([])
    expect(made.classes).toEqual([{ category: 'Books', class: 'Books' }])
    expect(made.rows.map(row => [row.kind, row.label, row.region, row.class, row.source, row.from, row.code])).toEqual([
      ['sale', null, null, null, null, null, 'S23'],
      ['sale', null, 'DE', null, null, null, 'DE19'],
      ['sale', null, null, 'Books', 'till', '2026-03-01', 'S0'],
      ['surcharge', 'Bag levy', null, null, null, null, 'S13'],
    ])
    // Books to Germany bear S0 by the category's route today; by rows the region would go before.
    expect(made.unlike).toEqual([
      {
        kind: 'sale',
        source: 'till',
        label: null,
        region: 'DE',
        class: 'Books',
        category: null,
        from: '2026-03-01',
        today: 'S0',
        byRows: 'DE19',
        route: 3,
      },
    ])
  })

  it('leave to a person what hangs on a place, a means, an item, or on two names of a product', () => {
    const items = new Map([
      ['MUG', { code: 'MUG', name: 'Mug', otherNames: [], account: '4000', taxCode: 'S23', costs: [] }],
    ])
    const made = rowsOfRoutes(
      [
        route(1, 'sale', 'S23'),
        route(2, 'sale', 'S13', { location: 'Market hall' }),
        route(3, 'sale', 'S13', { gateway: 'Cash' }),
        route(4, 'sale', 'S13', { method: 'Card' }),
        route(5, 'sale', null, { sku: 'MUG', item: 'MUG' }),
        route(6, 'sale', 'S0', { sku: 'MUG', item: 'MUG', region: 'FR' }),
        route(7, 'sale', 'S0', { sku: 'BOOK', category: 'Books' }),
        route(8, 'sale', 'S0', { category: 'Post', elsewhere: true }),
      ],
      items,
    )
    expect(made.kept.map(one => [one.route, one.by])).toEqual([
      [2, 'location'],
      [3, 'gateway'],
      [4, 'method'],
      [5, 'item'],
      [7, 'sku_and_category'],
    ])
    expect(made.rows).toHaveLength(2)
    expect(
      rowsOfRoutes([route(1, 'sale', 'A', { category: 'X' }), route(2, 'sale', 'B', { sku: 'X' })]).classes,
    ).toEqual([
      { category: 'X', class: 'X' },
      { sku: 'X', class: 'X (SKU)' },
    ])
  })

  it('say so where a map tells too much apart to be gone through', () => {
    const many = (count: number) =>
      Array.from({ length: count }, (_, place) =>
        route(
          place + 1,
          'sale',
          'S23',
          place % 2 ? { sku: `K-${place}` } : { category: `C-${place}`, region: place % 4 ? 'DE' : `CA-${place}` },
        ),
      )
    expect(rowsOfRoutes(many(600))).toMatchObject({ searched: false, unlike: [] })
    expect(rowsOfRoutes(many(6)).searched).toBe(true)
  })
})

describe(`months booked by the rows made of their routes (seed ${seed})`, () => {
  const zone = zoneOf('Europe/Dublin')
  const bytes = (
    lines: Parameters<typeof bookActivity>[0]['lines'],
    setup: Parameters<typeof bookActivity>[1],
  ): string =>
    JSON.stringify(
      bookActivity({ lines, heads: new Map(), zone, cutOffMinutes: 0 }, setup)
        .settlements.map(({ name, activity, composed }) => [
          name,
          activity.source,
          activity.currency,
          composed.blocks,
          composed.entries,
        ])
        .map(one => JSON.stringify(one))
        .sort(),
    )
  /** What goes back is taxed by its own date and region in these: whose it is, is what rows change on purpose. */
  const ownDates = (lines: Parameters<typeof bookActivity>[0]['lines']) =>
    lines.map(line => (isSupply(line.kind) ? { ...line, orderId: null } : line))

  it('are the same to the cent, wherever nothing is left to a person', () => {
    // No category's or SKU's route beside a region's of the same kind, and no item with a code of its own.
    const plain = madeRoutes.filter(one => !one.item && !one.charge && !(one.kind === 'sale' && one.category))
    const made = rowsOfRoutes(plain, madeItems)
    expect([made.kept, made.unlike]).toEqual([[], []])
    const fewer = fewerRows(made.rows)
    fc.assert(
      fc.property(madeMonths({ maxLength: 70 }), madeOptions, (months, options) => {
        const lines = ownDates(months)
        const setup = { ...madeSetup({ options }), routes: routeBook(plain) }
        const codeless = plain.map(one => (isSupply(one.kind) ? { ...one, taxCode: 'HELD' } : one))
        const byRows = {
          ...setup,
          routes: routeBook(codeless),
          classes: classBook(made.classes),
          taxRows: taxBook(made.rows),
        }
        expect(bytes(lines, byRows)).toBe(bytes(lines, setup))
        expect(bytes(lines, { ...byRows, taxRows: taxBook(fewer) })).toBe(bytes(lines, setup))
      }),
      { numRuns: 300, seed },
    )
  })

  it('name every cell that differs: where a line’s code changes, its cell was told', () => {
    const some = <Value>(...values: readonly Value[]) => fc.constantFrom(undefined, ...values)
    const anyRoute = fc.record({
      category: some('Books', 'Kits'),
      sku: some('MUG'),
      region: some('DE', 'DE-BY', 'FR'),
      taxLabel: some('VAT 7'),
      source: some('openhall'),
      code: fc.constantFrom('A', 'B', 'C', null),
      from: fc.constantFrom(null, '2026-03-01'),
    })
    const anyLine = fc.record({
      category: fc.constantFrom(null, 'Books', 'Kits', 'Other'),
      sku: fc.constantFrom(null, 'MUG', 'JUG'),
      region: fc.constantFrom(null, 'DE', 'DE-BY', 'FR'),
      taxLabel: fc.constantFrom(null, 'VAT 7'),
      source: fc.constantFrom('openhall', 'till'),
      localDate: fc.constantFrom('2026-02-01', '2026-03-02'),
    })
    let unlike = 0
    fc.assert(
      fc.property(
        fc.uniqueArray(anyRoute, {
          minLength: 4,
          maxLength: 9,
          selector: ({ code: _, ...conditions }) => JSON.stringify(conditions),
        }),
        fc.array(anyLine, { minLength: 20, maxLength: 20 }),
        (parts, lines) => {
          const routes = parts.map(({ code, ...conditions }, id) =>
            route(id + 1, 'sale', code, conditions as Partial<Route>),
          )
          const made = rowsOfRoutes(routes)
          const [serve, rows, classes] = [routeBook(routes).serve, taxBook(made.rows), classBook(made.classes)]
          for (const line of lines) {
            const served = serve({ ...line, kind: 'sale', location: null, gateway: null, method: null })
            if (!served || made.kept.some(one => one.route === served.id)) continue
            const at = {
              kind: 'sale' as const,
              source: line.source,
              label: line.taxLabel,
              region: line.region,
              class: classes.classOf(line),
              date: line.localDate,
            }
            if (rows.serve(at)?.code === served.taxCode) continue
            unlike++
            const known = made.unlike.some(
              cell =>
                cell.today === served.taxCode &&
                cell.class === at.class &&
                (cell.region === null || at.region?.startsWith(cell.region)) &&
                (cell.label === at.label || cell.label === null),
            )
            expect(known, JSON.stringify([line, made.unlike])).toBe(true)
          }
        },
      ),
      { numRuns: 1500, seed },
    )
    expect(unlike).toBeGreaterThan(200)
  })
})
