import type pg from 'pg'

interface Named {
  readonly connection: pg.PoolClient
  client: string
}

// One for each connection, so that what is kept by connection stays with it.
const namedOf = new WeakMap<pg.PoolClient, Named>()

/**
 * The connection, with the client's number in the place of `current_client()`: of tables that are split by client the planner then looks at one part alone, where
 * of a function's value it could not know before it runs. What is prepared for many clients keeps the function.
 */
export const naming = (connection: pg.PoolClient, client: number): pg.PoolClient => {
  const known = namedOf.get(connection)
  if (known) {
    known.client = String(Math.trunc(client))
    return known.connection
  }
  const ask = connection.query.bind(connection) as (...asked: unknown[]) => unknown
  const inside = (text: string): string => text.replaceAll('current_client()', named.client)
  const query = (statement: unknown, ...rest: unknown[]): unknown => {
    if (typeof statement === 'string') return ask(inside(statement), ...rest)
    const isOnce = isStatement(statement) && statement.name === undefined
    return ask(isOnce ? { ...statement, text: inside(statement.text) } : statement, ...rest)
  }
  const named: Named = {
    client: String(Math.trunc(client)),
    connection: new Proxy(connection, {
      get: (target, property) => {
        if (property === 'query') return query
        const value: unknown = Reflect.get(target, property)
        return typeof value === 'function' ? value.bind(target) : value
      },
    }),
  }
  namedOf.set(connection, named)
  return named.connection
}

// What is copied is no statement: it sends itself.
const isStatement = (asked: unknown): asked is { readonly text: string; readonly name?: string } =>
  typeof asked === 'object' &&
  asked !== null &&
  'text' in asked &&
  typeof asked.text === 'string' &&
  !('submit' in asked)
