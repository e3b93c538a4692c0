import type { MissingPage } from '@culvert/contract'
import { checkRoutes, kinds, type Route } from '@culvert/core'
import type { Transaction } from '../database/connect.ts'
import { loadRoutes } from '../setup/loadMap.ts'
import { routeContext } from './saveRoutes.ts'

type Unfit = MissingPage['unfitRoutes'][number]

/** Routes to accounts that cannot serve, or are of a type unlike their kind's. */
export const loadUnfitRoutes = async (tx: Transaction, chart: MissingPage['chart']): Promise<Unfit[]> => {
  const routes = await loadRoutes(tx)
  const accounts = new Map(chart.map(account => [account.code, account]))
  const { warnings } = checkRoutes(routes, await routeContext(tx))
  const unlike = new Map(warnings.map(warning => [warning.route, warning.code]))
  return routes.flatMap((route): Unfit[] => {
    const account = accounts.get(route.account ?? '')
    if (!account) return []
    const code = unlike.get(route.id)
    const why = account.archived
      ? 'archived'
      : code === 'other_clearing'
        ? 'other_clearing'
        : code === 'unlike_account_type'
          ? 'type'
          : null
    if (why === null) return []
    return [
      {
        route: route.id,
        source: route.source ?? null,
        title: titleOf(route),
        account: account.code,
        name: account.name,
        type: account.type,
        why,
      },
    ]
  })
}

const titleOf = (route: Route): string =>
  [kinds[route.kind].label, route.category, route.gateway, route.taxLabel, route.region && `to ${route.region}`]
    .filter(Boolean)
    .join(' · ')
