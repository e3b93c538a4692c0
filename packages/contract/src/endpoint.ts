import { z } from 'zod'

/**
 * What a person must be allowed to do to call an endpoint: `anyone`: nothing, not even be known; `enter`: be signed in; `own`: be there oneself, not a program
 * with a token; `people`: invite people and say what
 * they may do; `take_on`: take a client on; `read`; `bring`: bring in activity and
 * statements; `connect`: sources and what outside services grant; `map`: what decides bookings; `settle`: set settlements aside and take them up; `pair`;
 * `post`: write into the ledger and take back; `close`: lock months; `file`: tax periods; `comment`: note and ask;
 * `asked`: answer what one is asked; `erase`: what is kept of customers.
 */
export const rights = [
  'anyone',
  'enter',
  'own',
  'people',
  'take_on',
  'read',
  'bring',
  'connect',
  'map',
  'settle',
  'pair',
  'post',
  'close',
  'file',
  'comment',
  'asked',
  'erase',
] as const
export type Right = (typeof rights)[number]

/** Names of a path's parameters: `/bank/:account/code` has `account`. */
type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<Rest>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never
export type ParamsOf<Path extends string> = { readonly [Name in NamesIn<Path>]: string }

/** One thing that the server can be asked, declared once: the server mounts it, the web calls it, the description is made from it. */
export interface Endpoint<
  Path extends string = string,
  Query extends z.ZodType = z.ZodType,
  Body extends z.ZodType = z.ZodType,
  Answer extends z.ZodType = z.ZodType,
> {
  readonly method: 'GET' | 'POST' | 'PUT'
  /** Asked of one client, whose number the address names, or beside all of them. */
  readonly of: 'client' | 'practice'
  /** Within the client. */
  readonly path: Path
  readonly right: Right
  /** What it does, in a sentence. */
  readonly does: string
  readonly query: Query
  /** `file`: the body is a file, taken as it comes. */
  readonly body: Body | 'file'
  readonly answer: Answer
  readonly status: 200 | 201 | 202
  /** Also of a client whose books are only read. */
  readonly whenArchived: boolean
}

/** Nothing is asked, or said. */
export const nothing = z.object({})

type Told<Query extends z.ZodType, Body extends z.ZodType> = {
  readonly query?: Query
  readonly body?: Body | 'file'
  readonly of?: 'client' | 'practice'
  readonly status?: 200 | 201 | 202
  readonly whenArchived?: boolean
}

/** Declares an endpoint; what is left out is nothing, of a client, answered with 200. */
export const endpoint = <
  const Path extends string,
  Answer extends z.ZodType,
  Query extends z.ZodType = typeof nothing,
  Body extends z.ZodType = typeof nothing,
>(
  told: Pick<Endpoint<Path, Query, Body, Answer>, 'method' | 'path' | 'right' | 'does' | 'answer'> & Told<Query, Body>,
): Endpoint<Path, Query, Body, Answer> => ({
  of: 'client',
  status: 200,
  whenArchived: false,
  ...told,
  query: told.query ?? (nothing as unknown as Query),
  body: told.body ?? (nothing as unknown as Body),
})

/** What goes into an address: empty values are left out. */
export type Asked = Readonly<Record<string, string | number | null | undefined>>

/** The address of an endpoint under the API's own, with its parameters and query. */
export const addressOf = <Path extends string>(
  { of, path }: Pick<Endpoint<Path>, 'of' | 'path'>,
  asked: { readonly client?: number; readonly params?: ParamsOf<Path>; readonly query?: Asked },
): string => {
  const params = (asked.params ?? {}) as Record<string, string>
  const filled = path.replaceAll(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''))
  const set = Object.entries(asked.query ?? {}).filter(
    ([, value]) => value !== null && value !== undefined && value !== '',
  )
  const query = new URLSearchParams(set.map(([name, value]) => [name, String(value)])).toString()
  return `${of === 'client' ? `/clients/${asked.client}` : ''}${filled}${query === '' ? '' : `?${query}`}`
}
