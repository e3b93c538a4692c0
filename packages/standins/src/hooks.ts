import { randomUUID } from 'node:crypto'
import { Webhook } from 'standardwebhooks'
import { program } from './grants.ts'
import type { Store } from './store.ts'

/** What became of telling a program of news. */
export interface Told {
  readonly at: string
  readonly to: string
  readonly status: number | null
}

/** Tells every program that was let in of what is new at a shop, signed as Standard Webhooks have it. */
export const tellOfNews = async (store: Store, service: string, shop: string): Promise<Told[]> => {
  const sees = (login: string) =>
    store
      .service(service)
      ?.logins.find(one => one.name === login)
      ?.shops.includes(shop)
  const hooks = new Set(
    store
      .grants()
      .filter(one => one.service === service && sees(one.login))
      .map(one => one.hook),
  )
  const at = new Date()
  const body = JSON.stringify({ type: 'activity.added', timestamp: at.toISOString(), data: { shop } })
  const id = `news_${randomUUID()}`
  const headers = {
    'content-type': 'application/json',
    'webhook-id': id,
    'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
    'webhook-signature': new Webhook(program.hookSecret).sign(id, at, body),
  }
  return Promise.all(
    [...hooks].map(async to => {
      const status = await fetch(to, { method: 'POST', headers, body, signal: AbortSignal.timeout(5000) }).then(
        response => response.status,
        () => null,
      )
      return { at: at.toISOString(), to, status }
    }),
  )
}
