import { describe, expect, it } from 'vitest'
import { boutiqueFrance } from './charts/boutiqueFrance.ts'
import type { MeasuredChart } from './charts/chart.ts'
import { potteryIreland } from './charts/potteryIreland.ts'
import { tiendaSpain } from './charts/tiendaSpain.ts'
import { wolleGermany } from './charts/wolleGermany.ts'
import { workshopOntario } from './charts/workshopOntario.ts'
import { proposeAccount, starterMap } from './starterMap.ts'

const charts = [potteryIreland, workshopOntario, wolleGermany, boutiqueFrance, tiendaSpain]

/** Share of right proposals, by routes and by money. A wrong one shown as sure counts twice against it. */
const measure = ({ accounts, seen }: MeasuredChart) => {
  const wrong: string[] = []
  let [rightRoutes, routes, rightMoney, money] = [0, 0, 0, 0]
  for (const one of seen) {
    const proposal = proposeAccount(one, accounts)
    const right = one.right.includes(proposal?.account ?? '')
    const weight = !right && proposal?.sure ? 2 : 1
    routes += weight
    money += weight * Math.abs(one.amount)
    if (right) {
      rightRoutes++
      rightMoney += Math.abs(one.amount)
    } else
      wrong.push(
        `${one.kind} ${one.category ?? one.gateway ?? one.taxLabel ?? ''}: ${proposal?.account}${proposal?.sure ? ', sure' : ''}, right is ${one.right}`,
      )
  }
  return { byRoutes: rightRoutes / routes, byMoney: rightMoney / money, wrong }
}

describe('the starter map', () => {
  it.each(charts)('is right for at least 9 of 10 routes, and of the money, of $name', chart => {
    const { byRoutes, byMoney, wrong } = measure(chart)
    console.log(`${chart.name}: ${(100 * byRoutes).toFixed(0)} % of routes, ${(100 * byMoney).toFixed(0)} % of money`)
    expect(byRoutes, wrong.join('\n')).toBeGreaterThanOrEqual(0.9)
    expect(byMoney, wrong.join('\n')).toBeGreaterThanOrEqual(0.9)
  })

  it('is sure where a category is named, not where only the kind is', () => {
    const tableware = proposeAccount({ kind: 'sale', category: 'Tableware' }, potteryIreland.accounts)
    expect(tableware).toMatchObject({ account: '4000', sure: true, words: ['tableware', 'sales'] })
    expect(proposeAccount({ kind: 'sale', category: 'Kilns' }, potteryIreland.accounts)?.sure).toBe(false)
  })

  it('calls a means of payment by its own name', () => {
    const made = (gateway: string) => starterMap([{ kind: 'tender', gateway, amount: -100 }], [])[0]?.make
    expect(made('Cash')).toEqual({ name: 'Cash', type: 'current_asset' })
    expect(made('Brookpay')).toEqual({ name: 'Brookpay', type: 'clearing' })
  })

  it('proposes nothing where nothing fits, and says what account to make', () => {
    const [route] = starterMap([{ kind: 'reserve_kept', amount: -100 }], workshopOntario.accounts)
    expect(route).toMatchObject({ proposal: null, make: { name: 'Reserve kept', type: 'current_asset' } })
  })

  it('finds the account that is named after a region’s country, in the chart’s language', () => {
    const chart = [
      { code: '4000', name: 'Sales', type: 'income' as const },
      { code: '4010', name: 'Sales, Germany', type: 'income' as const },
      { code: '4020', name: 'Ventes Canada', type: 'income' as const },
    ]
    const accountFor = (region: string | null) => proposeAccount({ kind: 'sale', region }, chart)?.account
    expect([accountFor('DE-BY'), accountFor('CA'), accountFor(null)]).toEqual(['4010', '4020', '4000'])
    const seen = [
      { kind: 'sale' as const, region: 'DE-BY', amount: 300, lines: 3 },
      { kind: 'sale' as const, region: 'DE', amount: 100, lines: 1 },
      { kind: 'sale' as const, region: 'IE', amount: 5000, lines: 9 },
      { kind: 'sale' as const, region: null, amount: 700, lines: 2 },
    ]
    // Ireland and what names no region have no account of their own: one route serves both.
    expect(
      starterMap(seen, chart).map(({ region, amount, lines, proposal }) => [region, amount, lines, proposal?.account]),
    ).toEqual([
      [null, 5700, 11, '4000'],
      ['DE', 400, 4, '4010'],
    ])
  })

  it('puts the heaviest money first', () => {
    const routes = starterMap(potteryIreland.seen, potteryIreland.accounts)
    expect(routes.map(route => Math.abs(route.amount))).toEqual(
      routes.map(route => Math.abs(route.amount)).sort((left, right) => right - left),
    )
  })
})
