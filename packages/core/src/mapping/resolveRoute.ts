import type { RoutingValues } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { type ConditionName, conditionNames, type Route } from './route.ts'

/** How narrow a route is: one rank per condition in deciding order; a region's part outranks its country. */
export const specificity = (route: Route): readonly number[] =>
  conditionNames.map(name => {
    const value = route[name]
    if (value === null || value === undefined || value === '') return 0
    return name === 'region' && value.includes('-') ? 2 : 1
  })

const compareRanks = (left: readonly number[], right: readonly number[]): number => {
  for (let index = 0; index < left.length; index++) {
    const difference = (right[index] as number) - (left[index] as number)
    if (difference !== 0) return difference
  }
  return 0
}

/** Routes made ready for asking; the narrowest and latest first within a kind. */
export interface RouteBook {
  readonly routes: readonly Route[]
  /** The route that serves a line on its local date, or null. */
  serve(line: RoutingValues & { readonly localDate: string }): Route | null
  /** The route that serves a line, and every other one that would, each with what put it behind. */
  explain(line: RoutingValues & { readonly localDate: string }): RouteChoice | null
}

/** Why a route serves a line and not another that would: the first condition that one names and the other does not (of two regions the part), or the later date. */
export interface RouteChoice {
  readonly route: Route
  readonly over: readonly { readonly route: Route; readonly by: ConditionName | 'from' }[]
}

const decidedBy = (winner: Route, other: Route): ConditionName | 'from' => {
  const [won, lost] = [specificity(winner), specificity(other)]
  return conditionNames.find((_, index) => won[index] !== lost[index]) ?? 'from'
}

export const routeBook = (routes: readonly Route[]): RouteBook => {
  const byKind = new Map<Kind, Route[]>()
  for (const route of routes) {
    const list = byKind.get(route.kind)
    if (list) list.push(route)
    else byKind.set(route.kind, [route])
  }
  for (const list of byKind.values()) {
    list.sort(
      (left, right) =>
        compareRanks(specificity(left), specificity(right)) || ((left.from ?? '') < (right.from ?? '') ? 1 : -1),
    )
  }
  return {
    routes,
    serve: line => byKind.get(line.kind)?.find(route => serves(route, line)) ?? null,
    explain: line => {
      const [route, ...others] = byKind.get(line.kind)?.filter(candidate => serves(candidate, line)) ?? []
      return route ? { route, over: others.map(other => ({ route: other, by: decidedBy(route, other) })) } : null
    },
  }
}

/** True when the route is in force on the line's date and its every condition equals the line's value. */
export const serves = (route: Route, line: RoutingValues & { readonly localDate: string }): boolean => {
  if (route.kind !== line.kind) return false
  if (route.from !== null && route.from > line.localDate) return false
  return conditionNames.every(name => meets(route, name, line))
}

const meets = (route: Route, name: ConditionName, line: RoutingValues): boolean => {
  const wanted = route[name]
  if (wanted === null || wanted === undefined || wanted === '') return true
  const value = line[name]
  if (value === null || value === '') return false
  if (value === wanted) return true
  return name === 'region' && !wanted.includes('-') && value.startsWith(`${wanted}-`)
}
